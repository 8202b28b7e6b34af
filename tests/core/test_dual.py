"""Dual quaternion skinning against closed forms, scipy and the linear kind."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.deform import kernels, plain
from tightseam.deform.dual import between, blended, dual_of, matrix_of
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.edits.jaw_edits import SetDual

ANGLES = st.floats(-3.0, 3.0)


def rigid(turn: list[float], shift: list[float]) -> np.ndarray:
    found = np.eye(4)
    found[:3, :3], found[:3, 3] = Rotation.from_rotvec(turn).as_matrix(), shift
    return found


@settings(deadline=None)
@given(st.lists(ANGLES, min_size=3, max_size=3), st.lists(st.floats(-50, 50), min_size=3, max_size=3))
def test_a_matrix_comes_back_from_its_dual_quaternion(turn, shift):
    matrix = rigid(turn, shift)
    dual = dual_of(matrix[None])
    assert np.allclose(np.linalg.norm(dual[0, :4]), 1)
    assert np.allclose(matrix_of(dual)[0], matrix, atol=1e-9)
    quaternion = Rotation.from_matrix(matrix[:3, :3]).as_quat(scalar_first=True)
    assert np.allclose(np.abs(dual[0, :4] @ quaternion), 1)


def test_half_way_between_two_turns_about_an_axis_is_half_the_turn_about_it():
    pivot, turn = np.array([1.0, 2.0, 3.0]), rigid([0, 0, 1.2], [0, 0, 0])
    turn[:3, 3] = pivot - turn[:3, :3] @ pivot
    half = between(np.eye(4), turn, 0.5)
    expected = Rotation.from_rotvec([0, 0, 0.6]).as_matrix()
    assert np.allclose(half[:3, :3], expected)
    assert np.allclose(half[:3, :3] @ pivot + half[:3, 3], pivot)


def test_the_heaviest_decides_which_way_round_is_short():
    a, b = dual_of(np.stack([np.eye(4), rigid([0, 0, 0.4], [0, 0, 0])]))
    assert np.allclose(
        matrix_of(blended(np.stack([a, -b])[None], np.array([[0.7, 0.3]])))[0], between(np.eye(4), rigid([0, 0, 0.4], [0, 0, 0]), 0.3)
    )


def test_compiled_and_plain_loops_agree():
    rng = np.random.default_rng(3)
    matrices = np.stack([rigid(rng.normal(0, 0.8, 3), rng.normal(0, 5, 3)) for _ in range(6)])
    duals = dual_of(matrices).astype(np.float32)
    bones = np.argsort(rng.random((40, 6)), axis=1)[:, :4].astype(np.uint16)
    weights = -np.sort(-rng.dirichlet([1, 1, 1, 1], 40), axis=1).astype(np.float32)
    weights[:5, 2:] = 0  # fewer influences, and totals that are not 1
    weights[39] = 0
    points, start = rng.normal(0, 10, (40, 3)).astype(np.float32), rng.normal(0, 10, (40, 3)).astype(np.float32)
    vertices, mix = np.arange(40, dtype=np.int32), rng.random(40).astype(np.float32)
    one, other = start.copy(), start.copy()
    kernels.skin_dual(one, points, vertices, mix, bones, weights, duals)
    plain.skin_dual(other, points, vertices, mix, bones, weights, duals)
    assert np.abs(one - other).max() < 1e-3
    assert np.allclose(one[39], (1 - mix[39]) * start[39], atol=1e-4)  # nothing carries it: it goes where its total of nothing does


def test_a_twisted_neck_keeps_its_width(clean):
    """A vertex carried half and half by a bone and its turn by θ comes to cos(θ/2) of its distance linearly, to all of it dually."""
    values = clean.values({"head_turn": 50.0})
    store = MemoryStore(clean.store)
    dual = SetDual(part="skin", amount=1).apply(clean.character, store)
    linear, turned = (Evaluator(c, store).points(values) for c in (clean.character, dual))
    rows = clean.evaluator.meshes.rows("skin")
    apart = np.linalg.norm(turned[rows] - linear[rows], axis=1)
    assert 0.1 < apart.max() < 2.0
    none = SetDual(part="skin", amount=0).apply(dual, store)
    assert none == clean.character


def test_a_share_of_it_lies_between(clean):
    values = clean.values({"head_turn": 40.0, "head_nod": -20.0})
    store = MemoryStore(clean.store)
    posed = [Evaluator(SetDual(part="skin", amount=a).apply(clean.character, store), store).points(values) for a in (0.0, 0.25, 1.0)]
    assert np.abs(posed[1] - (0.75 * posed[0] + 0.25 * posed[2])).max() < 1e-4


def test_stages_and_the_blended_matrices_lead_to_the_same_points(clean):
    store = MemoryStore(clean.store)
    dual = SetDual(part="skin", amount=0.6).apply(clean.character, store)
    evaluator = Evaluator(replace(dual), store)
    values = clean.values({"head_turn": 30.0, "jaw_open": 1.0, "lip_seal_L": 0.7})
    stages, matrices = evaluator.stages(values), evaluator.matrices(values)
    rows = np.arange(len(evaluator.meshes.rest))[evaluator.meshes.rows("skin")]
    carried = evaluator.rig.skinning.carried_by(rows, matrices)
    posed = np.einsum("nij,nj->ni", carried[:, :3, :3], stages.sealed[rows]) + carried[:, :3, 3]
    assert np.abs(posed - stages.skinned[rows]).max() < 2e-4
