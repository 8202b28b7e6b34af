"""Gauges of seams against other means: dense samples with libigl's winding numbers and distances, and sections by trimesh."""

from __future__ import annotations

import os
from dataclasses import replace

import igl
import numpy as np
import pytest
import trimesh
from scipy.spatial import cKDTree
from tightseam.contact.sections import Facing
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_set
from tightseam.document.poses import rest_values
from tightseam.geometry.normals import face_normals
from tightseam.seams.meter import SeamMeter
from tightseam.seams.posed import PosedHead
from tightseam.seams.solid import SolidGauge

from tests import cast
from tests.core.samples import deepest, dense

DEPTHS = (0.02, 0.05, 0.08, 0.12, 0.18, 0.25, 0.33, 0.42, 0.52, 0.65)  # cm
PUSHED = (
    ("teeth", "teeth_upper", (0, -1, 0)), ("tongue_teeth_upper", "tongue", (0, 0.3, 1)), ("tongue_teeth_lower", "tongue", (0, -0.3, 1)),
    ("tongue_palate", "tongue", (0, 1, 0)), ("lips_teeth_upper", "teeth_upper", (0, 0, 1)), ("lips_teeth_lower", "teeth_lower", (0, 0, 1)),
    ("lid_upper_L", "eye_L", (0, 0.5, 1)), ("lid_lower_L", "eye_L", (0, -0.5, 1)), ("collar_neck", "collar", (0, 0, 1)),
    ("collar_chin", "collar", (0, 1, 0.3)),
)  # fmt: skip
NEAR = 0.03  # mm, or
SHARE = 0.05


@pytest.fixture(scope="module")
def maren():
    head = cast.clean("maren")
    evaluator = Evaluator(head.character, head.store)
    triangles = dict(zip(evaluator.meshes.names, evaluator.meshes.part_triangles, strict=True))
    points = {p.name: head.rest(p.name).astype(float) for p in head.character.parts}
    return head, evaluator, triangles, points


def moved(points, part, by) -> PosedHead:
    return PosedHead(points | {part: points[part] + by}, points, np.eye(4)[None], ())


def sampled(gauge: SolidGauge, points, triangles) -> float:
    """The overlap of a seam of solids by dense samples, mm."""
    probe, solid = gauge._probe, (points[gauge._solid.part], triangles[gauge._solid.part])
    found = deepest((points[probe.part], probe.triangles), solid)
    if gauge.both_ways:
        belongs = np.isin(triangles[probe.part], probe.vertices).all(axis=1)
        found = max(found, deepest(solid, (points[probe.part], triangles[probe.part]), belongs))
    return found


@pytest.mark.parametrize(("seam", "part", "way"), PUSHED)
def test_every_pair_pushed_into_each_other_is_as_deep_as_dense_samples_say(maren, seam, part, way):
    head, _, triangles, points = maren
    gauge = head.gauge(seam)
    unit = np.array(way) / np.linalg.norm(way)
    apart = next(x for x in np.arange(0, 5, 0.05) if gauge.overlap(moved(points, part, x * unit))[0] > 0)
    for depth in DEPTHS[:: 3 if part == "collar" else 1]:  # of wool three times as many triangles
        posed = moved(points, part, (apart - 0.05 + depth) * unit)
        expected, said = sampled(gauge, posed.points, triangles), gauge.overlap(posed)[0]
        assert said == pytest.approx(expected, abs=max(NEAR, SHARE * expected)), depth
        assert said > 0.05 or depth < 0.2


@pytest.mark.parametrize("where", [-1.1, 0.0, 0.7])
@pytest.mark.parametrize(("wide", "high"), [(0.25, 0.15), (0.285, 0.45), (0.4, 0.3), (0.8, 0.6)])
def test_a_hole_between_the_lips_is_as_high_as_its_section(maren, where, wide, high):
    head, _, triangles, points = maren
    skin, part = points["skin"].copy(), find_part(head.character, "skin")
    patches = [
        triangles["skin"][np.isin(triangles["skin"], vertex_set(head.store, part, name)).all(axis=1)] for name in ("lip_upper", "lip_lower")
    ]
    lines = [vertex_set(head.store, part, f"lip_{name}_line") for name in ("upper", "lower")]
    facing = Facing(skin, *patches, *lines, 73)
    upper = np.unique(patches[0])
    skin[upper, 1] += high * np.exp(-(((skin[upper, 0] - where) / wide) ** 2))
    gaps, places = facing.gaps(skin)
    k = int(gaps.argmax())
    way = np.gradient(places, axis=0)[k]
    cuts = [trimesh.intersections.mesh_plane(trimesh.Trimesh(skin, t, process=False), way, places[k]) for t in patches]
    near = [cut[np.abs(cut[:, :, 0] - places[k, 0]).max(axis=1) < 1] for cut in cuts]
    sampled = [np.concatenate([a + np.linspace(0, 1, 60)[:, None] * (b - a) for a, b in cut]) for cut in near]
    expected = cKDTree(sampled[0]).query(sampled[1])[0].min()
    assert abs(places[k, 0] - where) < 0.5
    assert gaps[k] == pytest.approx(expected, rel=0.1, abs=0.002)
    assert gaps[k] > 0.1 * high


@pytest.mark.parametrize("nod", [20.0, 25.0])
def test_a_chin_in_the_throat_is_as_deep_as_dense_samples_say(nod):
    head, values = cast.clean("maren"), {"head_nod": nod, "jaw_open": 1.0}
    reading = next(r for r in head.meter().measure(head.values(values)) if r.seam == "skin_throat")
    skin, part = head.posed("skin", values).astype(float), find_part(head.character, "skin")
    triangles = Evaluator(head.character, head.store).meshes.part_triangles[0]
    chin, neck = (np.isin(triangles, vertex_set(head.store, part, name)).all(axis=1) for name in ("chin", "neck"))
    normals = face_normals(skin, triangles)
    expected = 0.0
    for own in (chin, neck):
        places, row = dense(skin, triangles[own], 5)
        ways = normals[own][row]
        inside = np.abs(igl.fast_winding_number(skin, triangles.astype(np.int64), places + 0.01 * ways)) > 0.5
        for triangle in np.unique(row[inside]):
            against = triangles[normals @ normals[own][triangle] < 0].astype(np.int64)
            squared = igl.point_mesh_squared_distance(places[inside & (row == triangle)], skin, against)[0]
            expected = max(expected, 10 * float(np.sqrt(squared.max())))
    assert reading.overlap > 0.3
    assert reading.overlap == pytest.approx(expected, abs=max(NEAR, SHARE * expected))


def test_clean_heads_hold_with_every_control_alone():
    for who in ("maren", "pim", "hob"):
        head = cast.clean(who)
        meter = SeamMeter(head.character, head.store, Evaluator(head.character, head.store))
        for control in head.character.controls:
            for share in (0.5, 1.0):
                for end in {control.low, control.high} - {control.rest}:
                    values = rest_values(head.character) | {control.name: control.rest + share * (end - control.rest)}
                    over = [(r.seam, r.overlap, r.gap, r.lag) for r in meter.measure(values) if not r.within]
                    assert not over, (who, control.name, values[control.name], over)


def test_a_lip_seam_of_an_older_document_has_one_line_and_is_read_all_the_same(maren):
    head, evaluator, _, _ = maren
    older = replace(head.character, seams=tuple(replace(s, meets=None) if s.name == "lips" else s for s in head.character.seams))
    values = rest_values(head.character)
    meters = (SeamMeter(c, head.store, evaluator) for c in (head.character, older))
    now, before = (next(r for r in m.measure(values, ("lips",)) if r.seam == "lips") for m in meters)
    assert before.gap == pytest.approx(now.gap, abs=0.02)


def smooth_field(points: np.ndarray, rng: np.random.Generator, size: float) -> np.ndarray:
    """Displacements (N, 3) of `size` cm at most that change little over a centimetre."""
    ways, phases = rng.normal(size=(3, 4)) * 0.45, rng.uniform(0, 2 * np.pi, (4, 3))
    return size * np.sin((points @ ways)[:, :, None] + phases).mean(axis=1)


@pytest.mark.parametrize("who", ["maren", "pim", "hob"])
@pytest.mark.parametrize("seed", range(int(os.environ.get("TIGHT_SEAM_FIELDS", "1"))))
def test_heads_changed_at_random_are_judged_as_dense_samples_judge_them(who, seed):
    """Every solid seam of a head whose parts were bent each for itself: none said within that is over, none over that is within."""
    head, rng = cast.clean(who), np.random.default_rng(seed)
    meter = SeamMeter(head.character, head.store, Evaluator(head.character, head.store))
    triangles = dict(zip(meter._evaluator.meshes.names, meter._evaluator.meshes.part_triangles, strict=True))
    points = {p.name: head.rest(p.name).astype(float) for p in head.character.parts}
    points = {name: x + smooth_field(x, rng, rng.uniform(0.05, 0.3)) for name, x in points.items()}
    posed, judged_over = PosedHead(points, points, np.eye(4)[None], ()), 0
    for seam, gauge in zip(head.character.seams, meter.gauges, strict=True):
        if not isinstance(gauge, SolidGauge):
            continue
        expected = sampled(gauge, points, triangles)
        said, limit = gauge.read(posed).overlap, seam.limits.overlap
        assert said == pytest.approx(expected, abs=max(NEAR, SHARE * expected)), (seam.name, said, expected)
        assert (said > limit) == (expected > limit) or abs(expected - limit) < 0.05
        judged_over += expected > limit
    assert judged_over


def test_a_reading_is_of_the_sets_it_was_taken_with():
    head, values = cast.clean("maren"), {"head_nod": 25.0, "jaw_open": 1.0}
    store, skin = MemoryStore(head.store), find_part(head.character, "skin")
    less = replace(skin, sets=skin.sets | {"chin": store.put(vertex_set(store, skin, "neck")[:9].astype(np.int32))})
    other = replace(head.character, parts=tuple(less if p is skin else p for p in head.character.parts))
    read = [
        next(r for r in SeamMeter(c, s, Evaluator(c, s)).measure(rest_values(c) | values) if r.seam == "skin_throat").overlap
        for c, s in ((head.character, head.store), (other, store))
    ]
    assert read[0] > 1
    assert read[1] < 0.1
