"""Posed points against closed forms, and compiled loops against plain ones."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.deform import backend, kernels, plain
from tightseam.deform.pull import lag_list, pull_list
from tightseam.deform.shape_runs import pack_runs
from tightseam.deform.skeleton import checked_values
from tightseam.deform.skinning import influence_table
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.geometry.rotation import rotation
from tightseam.seams.follow import carried, expected_weights

from tests.core.shapes import ball

EXTREME = {"jaw_open": 1.0, "smile": 0.6, "blink_L": 0.8, "gaze_across": 25.0, "gaze_height": -15.0, "head_turn": 30.0, "head_nod": -12.0}


def test_the_neutral_pose_is_the_neutral(clean):
    for part in clean.character.parts:
        assert np.abs(clean.posed(part.name) - clean.rest(part.name)).max() < 1e-5, part.name


def test_compiled_and_plain_loops_agree(clean, monkeypatch):
    values = clean.values(EXTREME)
    monkeypatch.setattr(backend, "_loaded", [plain])
    expected, normals = (x.copy() for x in clean.evaluator.frame(values))
    monkeypatch.setattr(backend, "_loaded", [kernels])
    points, compiled_normals = clean.evaluator.frame(values)
    assert np.abs(points - expected).max() < 2e-5
    assert np.median(np.abs(compiled_normals - normals)) < 1e-6


def test_skinning_agrees_with_dense_float64_matrices(clean):
    values = clean.values({"jaw_open": 0.7, "head_turn": 20})
    stages = clean.evaluator.stages(values)
    matrices = clean.evaluator.matrices(values)
    table = clean.evaluator.rig.skinning.influences
    dense = np.zeros((len(table.bones), len(matrices)))
    np.add.at(dense, (np.arange(len(table.bones))[:, None], table.bones), table.weights.astype(float))
    expected = carried(stages.relieved.astype(float), dense, matrices)
    assert np.abs(stages.skinned - expected).max() < 3e-5


@pytest.mark.parametrize("width", [4, 8])
def test_eight_and_four_influences_pose_alike(width):
    rng = np.random.default_rng(width)
    points = rng.normal(size=(50, 3)).astype(np.float32)
    bones = rng.integers(0, 5, (50, width)).astype(np.uint16)
    weights = rng.dirichlet(np.ones(width), 50).astype(np.float32)
    matrices = rng.normal(size=(5, 16)).astype(np.float32)
    out, expected = np.empty_like(points), np.empty_like(points)
    kernels.skin(out, points, bones, weights, matrices)
    plain.skin(expected, points, bones, weights, matrices)
    assert np.abs(out - expected).max() < 1e-4


def test_the_jaw_turns_its_teeth_about_the_hinge(clean):
    from tightseam.controls.starting_set import JAW_OPENING, JAW_SLIDE

    hinge = np.array(next(b.base for b in clean.character.bones if b.name == "jaw"))
    turn = rotation(np.array([JAW_OPENING, 0, 0]))
    expected = (clean.rest("teeth_lower") - hinge) @ turn.T + hinge + [0, 0, JAW_SLIDE]
    assert np.abs(clean.posed("teeth_lower", {"jaw_open": 1}) - expected).max() < 1e-5


def test_an_eye_turns_about_its_own_centre(clean):
    before, after = clean.rest("eye_L"), clean.posed("eye_L", {"gaze_across": 20})
    centre = np.array(next(b.base for b in clean.character.bones if b.name == "eye_L"))
    assert np.abs(np.linalg.norm(after - centre, axis=1) - np.linalg.norm(before - centre, axis=1)).max() < 1e-5
    gaze = after[0] - centre  # vertex 0 is the middle of the pupil
    assert np.degrees(np.arctan2(gaze[0], gaze[2])) == pytest.approx(20, abs=0.01)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(-180, 180), min_size=3, max_size=3))
def test_rotations_are_rotations(degrees):
    turn = rotation(np.array(degrees))
    assert np.abs(turn @ turn.T - np.eye(3)).max() < 1e-12
    assert np.linalg.det(turn) == pytest.approx(1)


def test_children_go_with_their_parents(clean):
    bones = clean.character.bones
    angles = np.zeros((len(bones), 3))
    angles[[b.name for b in bones].index("neck_1")] = [0, 90, 0]
    matrices = clean.evaluator.skeleton.posed(angles, np.zeros_like(angles))
    assert np.abs(matrices - matrices[0]).max() < 1e-12


def test_shapes_add_up(clean):
    one, other = clean.posed("skin", {"brows_up": 1}), clean.posed("skin", {"smile": 1})
    both = clean.posed("skin", {"brows_up": 1, "smile": 1})
    assert np.abs((one - clean.rest("skin")) + (other - clean.rest("skin")) - (both - clean.rest("skin"))).max() < 3e-5


def test_strengths_of_links_add_up(clean):
    rig = clean.evaluator.rig
    strengths = rig.strengths(clean.values({"jaw_open": 0.5, "smile": 0.25})).tolist()
    found = {name: s for name, s in zip(rig.shapes.names, strengths, strict=True) if s}
    assert found == {"jaw_open_relief": 0.5, "smile": 0.25}


def test_a_total_other_than_one_is_not_hidden():
    table = influence_table(np.array([0, 0]), np.array([0, 1]), np.array([0.5, 0.3]), 1)
    assert table.weights.sum() == pytest.approx(0.8)


def test_more_than_eight_influences_are_refused():
    with pytest.raises(BadDocument, match="9 influences"):
        influence_table(np.zeros(9, int), np.arange(9), np.full(9, 1 / 9), 1)


def test_runs_hold_what_was_given():
    offsets = np.arange(12.0).reshape(4, 3)
    runs = pack_runs(("a",), [(np.array([1, 2, 5, 6]), offsets)])
    assert runs.run_start.tolist() == [1, 5]
    assert runs.run_length.tolist() == [2, 2]
    out, rest = np.empty((8, 3), np.float32), np.zeros((8, 3), np.float32)
    kernels.blend(out, rest, *runs_arguments(runs), np.array([0]), np.array([2.0], np.float32))
    expected = np.zeros((8, 3))
    expected[[1, 2, 5, 6]] = 2 * offsets
    assert np.array_equal(out, expected)


def runs_arguments(runs):
    return runs.run_of_shape, runs.run_start, runs.run_length, runs.run_values, runs.values


@pytest.mark.parametrize(
    ("values", "said"),
    [({"jaw_opn": 1.0}, "Did you mean “jaw_open”"), ({"smile": 1.2}, "out of range"), ({"smile": float("nan")}, "needs a number")],
)
def test_wrong_control_values_are_refused_in_words(clean, values, said):
    with pytest.raises(BadRequest, match=said):
        checked_values(clean.character, values)


def test_overdrive_stretches_the_range_by_half(clean):
    assert checked_values(clean.character, {"smile": 1.5}, overdrive=True)["smile"] == 1.5
    with pytest.raises(BadRequest):
        checked_values(clean.character, {"smile": 1.51}, overdrive=True)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 3345), st.floats(0, 1), st.floats(0, 1), st.floats(-35, 35), st.floats(-50, 50))
def test_pull_rows_add_up_to_the_displacement_seen_from_the_head(faulty, vertex, jaw, smile, gaze, turn):
    values = faulty.values({"jaw_open": jaw, "smile": smile, "gaze_across": gaze, "head_turn": turn, "blink_R": smile})
    rows = pull_list(faulty.evaluator, "skin", vertex, values)
    posed = faulty.evaluator.stages(values).skinned[vertex].astype(float)
    names = [b.name for b in faulty.character.bones]
    to_head = np.linalg.inv(faulty.evaluator.matrices(values)[names.index("head")])
    moved = (to_head[:3, :3] @ posed + to_head[:3, 3] - faulty.rest("skin")[vertex]) * 10
    assert np.abs(np.sum([r.vector for r in rows], axis=0) - moved).max() < 2e-3


def test_a_pull_list_is_sorted_and_names_the_jaw_at_the_chin(clean):
    chin = int(
        np.argmin(np.linalg.norm(clean.rest("skin") - next(m.point for m in clean.character.landmarks if m.name == "chin_front"), axis=1))
    )
    rows = pull_list(clean.evaluator, "skin", chin, clean.values({"jaw_open": 1}))
    assert rows[0].name == "jaw"
    assert [r.millimetres for r in rows] == sorted((r.millimetres for r in rows), reverse=True)


def test_lag_rows_add_up_to_the_lag_and_blame_the_head(faulty):
    seam = next(s for s in faulty.character.seams if s.name == "follow_teeth_lower")
    expected = expected_weights(seam, faulty.character, faulty.store)
    values = faulty.values({"jaw_open": 1, "head_turn": 15})
    rows = lag_list(faulty.evaluator, "teeth_lower", 600, values, expected[600])
    rightful = carried(faulty.rest("teeth_lower"), expected, faulty.evaluator.matrices(values))[600]
    behind = np.linalg.norm(rightful - faulty.posed("teeth_lower", {"jaw_open": 1, "head_turn": 15})[600]) * 10
    assert rows[0].name == "head"
    assert rows[0].weight == pytest.approx(0.5)
    assert np.linalg.norm(np.sum([r.vector for r in rows], axis=0)) == pytest.approx(behind, abs=2e-3)


def test_a_vertex_that_is_not_there_is_refused(clean):
    with pytest.raises(BadRequest, match="out of range"):
        pull_list(clean.evaluator, "eye_L", 99_999, clean.values())


@pytest.mark.parametrize("loops", [plain, kernels], ids=["plain", "compiled"])
def test_normals_of_a_ball_point_away_from_its_middle(loops):
    points, polygons = ball(2.0, 64, 32)
    out = np.empty((len(points), 3), np.float32)
    others = np.array([p for p in polygons.lists() if len(p) == 3], np.uint32)
    loops.normals(out, points.astype(np.float32), polygons.quads.astype(np.uint32), others)
    off = np.abs(out - points / 2.0).max(axis=1)
    assert off[np.abs(points[:, 2]) < 1.8].max() < 0.005
    assert off.max() < 0.03  # beside the poles quads meet the fans


@settings(max_examples=40, deadline=None)
@given(st.integers(1, 12), st.integers(0, 2**32 - 1))
def test_compiled_bones_are_the_plain_ones(count, seed):
    rng = np.random.default_rng(seed)
    angles, pivots = rng.uniform(-180, 180, (count, 3)), rng.normal(size=(count, 3))
    parents = np.array([rng.integers(-1, k) if k else -1 for k in range(count)])
    out, expected = np.empty((count, 4, 4)), np.empty((count, 4, 4))
    moves, axes = rng.normal(size=(count, 3)), Rotation.random(count, random_state=seed).as_matrix()
    kernels.pose_bones(out, angles, moves, axes, pivots, parents)
    plain.pose_bones(expected, angles, moves, axes, pivots, parents)
    assert np.abs(out - expected).max() < 1e-9
    roots = parents < 0
    fixed = np.einsum("bij,bj->bi", out[roots, :3, :3], pivots[roots]) + out[roots, :3, 3]
    shifted = pivots[roots] + np.einsum("bki,bk->bi", axes[roots], moves[roots])
    assert np.abs(fixed - shifted).max() < 1e-12  # a root turns about its own head, which goes along its own axes
