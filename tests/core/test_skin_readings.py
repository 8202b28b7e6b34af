"""What the skin does in the poses of the strip: cuts that open, a skull that gives, and what expressions do together."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons as polygons_of
from tightseam.document.make import make_delta
from tightseam.document.model import Character, Pose
from tightseam.document.remesh import renumbered
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.mix.cell import Dialled
from tightseam.mix.sweeper import Sweeper
from tightseam.seams.pose_report import PoseMeter, PoseReport
from tightseam.surfaces.cuts import Cuts

from tests import cast
from tests.core.mix_faults import Planter
from tests.core.shapes import grid
from tests.head import Head

SHEETS = 4  # rows of quads of each of two sheets


def two_sheets() -> SurfaceMesh:
    """Side by side along x = 2, each with vertices of its own there."""
    points, polygons = grid(SHEETS, SHEETS, 0.5)
    both = np.concatenate([points, points + [SHEETS * 0.5, 0, 0]])
    corners = np.concatenate([polygons.corners, polygons.corners + len(points)])
    return SurfaceMesh(both, Polygons(np.tile(polygons.sizes, 2), corners))


def test_a_cut_is_where_two_borders_lie_on_one_another():
    mesh = two_sheets()
    cuts = Cuts(mesh)
    assert len(cuts.pairs) == SHEETS + 1
    assert np.allclose(mesh.points[cuts.pairs[:, 0]], mesh.points[cuts.pairs[:, 1]])
    assert not len(Cuts(SurfaceMesh(*grid(5, 5, 0.01))).pairs)  # its own edges are shorter than that


@given(st.integers(0, 1000), st.floats(0, 3))
@settings(max_examples=25)
def test_a_cut_opens_by_as_much_as_its_sides_part_and_not_as_they_move_as_one(seed, gap):
    mesh, turn = two_sheets(), Rotation.random(rng=seed).as_matrix()
    cuts, other = Cuts(mesh), np.arange(len(mesh)) >= len(mesh) // 2
    posed = mesh.points + gap * other[:, None] * [1, 0, 0]
    assert np.allclose(cuts.open(posed @ turn.T + 5), gap, atol=1e-9)


def over(report: PoseReport) -> dict[str, float]:
    assert report.skin is not None
    return {r.kind: r.size for r in report.skin if r.excess > 1}


def report_of(character: Character, store, values: dict[str, float]) -> PoseReport:
    return PoseMeter(character, store).report(Pose("tried", "Tried", values))


@pytest.fixture(scope="module")
def hob(rigged) -> Head:
    return rigged["hob"]


def cut_open(head: Head) -> tuple[Character, MemoryStore]:
    """Cut across the forehead; brows up moves only what is below."""
    store = MemoryStore(head.store)
    skin = find_part(head.character, "skin")
    points, faces = np.asarray(store.get(skin.points)), polygons_of(store, skin)
    middle = np.stack([np.bincount(faces.face_of_corner, points[faces.corners][:, k]) for k in range(3)], axis=1) / faces.sizes[:, None]
    brow = next(m.point for m in head.character.landmarks if m.name == "brow_middle_L")
    above = (middle[:, 1] > brow[1] + 0.8) & (middle[:, 2] > brow[2] - 3)
    of_corner = above[faces.face_of_corner]
    both = np.intersect1d(faces.corners[of_corner], faces.corners[~of_corner])
    twin = np.arange(len(points))
    twin[both] = len(points) + np.arange(len(both))
    corners = np.where(of_corner, twin[faces.corners], faces.corners)
    origin = np.concatenate([np.arange(len(points)), both])
    changed = renumbered(
        head.character, store, skin, np.arange(len(points)), origin, points[origin], Polygons(faces.sizes, corners), np.arange(len(faces))
    )

    def still_above(delta):
        whole = np.zeros((len(origin), 3), np.float32)
        whole[np.asarray(store.get(delta.vertices))] = np.asarray(store.get(delta.offsets))
        whole[np.union1d(corners[of_corner], twin[both])] = 0
        return make_delta(store, "skin", whole)

    shapes = (
        replace(s, deltas=tuple(still_above(d) if d.part == "skin" else d for d in s.deltas)) if s.name == "brows_up" else s
        for s in changed.shapes
    )
    return replace(changed, shapes=tuple(shapes)), store


def test_a_cut_that_a_shape_opens_is_told_in_the_pose_and_in_the_sweep(hob):
    character, store = cut_open(hob)
    report = report_of(character, store, {"brows_up": 1.0})
    found = next(r for r in report.skin if r.kind == "split")
    sweeper = Sweeper(character, store)
    swept = [f for f in sweeper.measure(sweeper.cell(Dialled("brows_up"))).findings if f.kind == "split"]
    assert found.size > 1
    assert max(f.size for f in swept) == pytest.approx(found.size, rel=1e-6)
    assert sweeper.meter.size_of(swept[0]) == pytest.approx(swept[0].size, rel=1e-6)
    assert "split" in {f.kind for f in report.findings}
    assert not over(report_of(character, store, {"smile": 1.0}))


def test_a_skull_that_the_neck_shares_gives_and_a_clean_one_does_not(rigged):
    maren = cast.faulty("maren")
    told = report_of(maren.character, maren.store, {"head_turn": 50.0})
    assert over(told)["squash"] > 10
    assert sum(r.kind == "squash" for r in told.skin) == 1
    assert "squash" not in over(report_of(rigged["maren"].character, rigged["maren"].store, {"head_turn": 50.0}))


def test_what_two_expressions_do_together_is_told_in_their_pose_as_in_their_cell(hob):
    planter = Planter(hob)
    planter.character = planter.rough(0.9)
    character = planter.sunken(0.6)
    for ends in (("smile", "pucker"), ("jaw_open", "pucker")):
        sweeper = Sweeper(character, planter.store)
        cell = {f.kind: f.size for f in sorted(sweeper.measure(sweeper.cell(*map(Dialled, ends))).findings, key=lambda f: f.excess)}
        pose = over(report_of(character, planter.store, dict.fromkeys(ends, 1.0)))
        assert pose
        assert pose == pytest.approx({kind: cell[kind] for kind in pose}, rel=1e-4)


def test_clean_heads_have_a_clean_strip(rigged):
    for head in rigged.values():
        meter = PoseMeter(head.character, head.store)
        assert not [(p.name, r) for p in head.character.poses for r in meter.report(p).skin if r.excess > 1]


def test_what_is_wrong_at_rest_is_told_of_rest_alone():
    head = cast.faulty("maren")
    assert over(report_of(head.character, head.store, {})).keys() >= {"flip", "crumple"}
    assert not over(report_of(head.character, head.store, {"smile": 0.01}))
    assert any("turns over" in f.title for f in PoseMeter(head.character, head.store).report(Pose("rest", "Rest", {})).findings)


def test_a_skin_without_landmarks_has_no_readings(hob):
    assert report_of(replace(hob.character, landmarks=()), hob.store, {"smile": 1.0}).skin is None
