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
from tightseam.document.lookup import seam as find_seam
from tightseam.document.lookup import vertex_set
from tightseam.document.poses import rest_values
from tightseam.geometry.normals import face_normals
from tightseam.seams.meter import SeamMeter
from tightseam.seams.posed import PosedHead
from tightseam.seams.solid import SolidGauge

from tests import cast

DEPTHS = (0.02, 0.05, 0.08, 0.12, 0.18, 0.25, 0.33, 0.42, 0.52, 0.65)  # cm
NEAR = 0.03  # mm, or
SHARE = 0.05


def dense(points: np.ndarray, triangles: np.ndarray, per: int) -> tuple[np.ndarray, np.ndarray]:
    """Samples (S, 3) spread over triangles, and the triangle (S,) each lies on."""
    u, v = (x.ravel() for x in np.meshgrid(np.linspace(0, 1, per), np.linspace(0, 1, per)))
    share = np.stack([1 - u - v, u, v], axis=1)[u + v <= 1 + 1e-9]
    return np.einsum("sk,tkc->tsc", share, points[triangles]).reshape(-1, 3), np.repeat(np.arange(len(triangles)), len(share))


def deepest(surface, solid, counts=None, per=12) -> float:
    """The deepest sample of a surface inside a mesh, mm, by the winding number; where `counts` says so of its nearest triangle."""
    places, _ = dense(*surface, per)
    low, high = solid[0].min(axis=0), solid[0].max(axis=0)
    places = places[((places >= low) & (places <= high)).all(axis=1)]
    faces = solid[1].astype(np.int64)
    places = places[np.abs(igl.fast_winding_number(solid[0], faces, places)) > 0.5] if len(places) else places
    if not len(places):
        return 0.0
    squared, nearest, _ = igl.point_mesh_squared_distance(places, solid[0], faces)
    return 10 * float(np.sqrt(np.where(True if counts is None else counts[nearest], squared, 0).max()))


@pytest.fixture(scope="module")
def maren():
    head = cast.clean("maren")
    evaluator = Evaluator(head.character, head.store)
    triangles = dict(zip(evaluator.meshes.names, evaluator.meshes.part_triangles, strict=True))
    points = {p.name: head.rest(p.name).astype(float) for p in head.character.parts}
    return head, evaluator, triangles, points


def moved(points, part, by) -> PosedHead:
    return PosedHead(points | {part: points[part] + by}, points, np.eye(4)[None], ())


@pytest.mark.parametrize("seam", ["teeth", "tongue_teeth_upper", "tongue_teeth_lower"])
@pytest.mark.parametrize("depth", DEPTHS)
def test_parts_pushed_into_each_other_are_as_deep_as_dense_samples_say(maren, seam, depth):
    head, evaluator, triangles, points = maren
    found = find_seam(head.character, seam)
    gauge = SolidGauge(found, head.character, head.store, evaluator)
    towards = points[found.solid].mean(axis=0) - points[found.probe].mean(axis=0)
    gap = gauge.read(moved(points, found.probe, 0 * towards)).gap
    posed = moved(points, found.probe, towards / np.linalg.norm(towards) * (gap / 10 + depth))
    probe, solid = ((posed.points[name], triangles[name]) for name in (found.probe, found.solid))
    expected = max(deepest(probe, solid), deepest(solid, probe))
    assert expected > 0.05 or depth < 0.2  # they do not meet where their middles look at each other
    assert gauge.read(posed).overlap == pytest.approx(expected, abs=max(NEAR, SHARE * expected))


@pytest.mark.parametrize("teeth", ["teeth_upper", "teeth_lower"])
@pytest.mark.parametrize("depth", DEPTHS[::3])
def test_teeth_pushed_into_the_lips_are_as_deep_as_dense_samples_say(maren, teeth, depth):
    head, evaluator, triangles, points = maren
    found = find_seam(head.character, f"lips_{teeth}")
    gauge = SolidGauge(found, head.character, head.store, evaluator)
    posed = moved(points, teeth, [0, 0, 0.2 + depth])
    soft = np.isin(triangles["skin"], vertex_set(head.store, find_part(head.character, "skin"), "mouth_soft")).all(axis=1)
    near = np.flatnonzero(soft)
    lips = points["skin"], triangles["skin"][near]
    jaws = posed.points[teeth], triangles[teeth]
    expected = max(deepest(lips, jaws), deepest(jaws, (points["skin"], triangles["skin"]), soft))
    assert expected > 0.1
    assert gauge.read(posed).overlap == pytest.approx(expected, abs=max(NEAR, SHARE * expected))


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
    points = {name: x + smooth_field(x, rng, rng.uniform(0, 0.25)) for name, x in points.items()}
    posed, judged_over = PosedHead(points, points, np.eye(4)[None], ()), 0
    for seam, gauge in zip(head.character.seams, meter._gauges, strict=True):
        if not isinstance(gauge, SolidGauge):
            continue
        own = gauge._probe.triangles
        solid = points[seam.solid], triangles[seam.solid]
        expected = deepest((points[seam.probe], own), solid)
        if gauge.both_ways:
            belongs = np.isin(triangles[seam.probe], gauge._probe.vertices).all(axis=1)
            expected = max(expected, deepest(solid, (points[seam.probe], triangles[seam.probe]), belongs))
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
