"""The loops of eyes and lids, compiled and plain, on anything: hostile tables, gazes beyond them, closings below 0 and above 1."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.deform import kernels, plain
from tightseam.deform.eye_relief import CompiledEyeRelief
from tightseam.deform.meshes import followers_of
from tightseam.geometry.read_only import read_only

COUNT = 40
SEEDS = st.integers(0, 2**32 - 1)
SINGLE = 2e-5  # of numbers of the size of a head


def both(name: str, points: np.ndarray, *args: object) -> tuple[np.ndarray, np.ndarray]:
    """The points as the compiled and as the plain loop leave them."""
    results = []
    for loops in (kernels, plain):
        moved = points.copy()
        getattr(loops, name)(moved, *(read_only(a) if isinstance(a, np.ndarray) else a for a in args))
        results.append(moved)
    return results[0], results[1]


@settings(max_examples=40, deadline=None)
@given(SEEDS, st.integers(1, 4))
def test_eyes_turn_alike_and_as_their_bones_turn_them(seed, count):
    rng = np.random.default_rng(seed)
    matrices = np.tile(np.eye(4), (5, 1, 1))
    matrices[:, :3, :3], matrices[:, :3, 3] = Rotation.random(5, random_state=seed).as_matrix(), rng.normal(size=(5, 3))
    carriers, centres, head = rng.integers(0, 5, count), rng.normal(size=(count, 3)), int(rng.integers(-1, 5))
    found = []
    for loops in (kernels, plain):
        turns, at = np.empty((count, 3, 3)), np.empty((count, 3))
        loops.turn_eyes(turns, at, *map(read_only, (matrices,)), head, read_only(carriers), read_only(centres))
        found.append((turns, at))
    assert np.allclose(found[0][0], found[1][0], atol=1e-12)
    assert np.allclose(found[0][1], found[1][1], atol=1e-12)
    back = np.eye(4) if head < 0 else matrices[head]
    posed = np.einsum("ij,ej->ei", back[:3, :3], found[0][1]) + back[:3, 3]
    assert np.allclose(posed, np.einsum("eij,ej->ei", matrices[carriers][:, :3, :3], centres) + matrices[carriers][:, :3, 3])


@settings(max_examples=60, deadline=None)
@given(SEEDS, st.integers(0, 3))
def test_lids_follow_alike(seed, controls):
    rng = np.random.default_rng(seed)
    turns, tables = Rotation.random(3, random_state=seed).as_matrix(), rng.normal(size=(4, 3, 721))
    asked, eyes, outward = rng.uniform(-1, 1.5, (4, controls)), np.array([2, 0]), np.array([1.0, -1.0])
    found = []
    for loops in (kernels, plain):
        closing, slide = np.empty(4), np.empty(4)
        loops.move_lids(closing, slide, *map(read_only, (asked, turns, eyes, outward, tables)))
        found.append(np.concatenate([closing, slide]))
    assert np.allclose(found[0], found[1], atol=1e-9)


@settings(max_examples=40, deadline=None)
@given(SEEDS, st.integers(2, 5), st.integers(0, 4))
def test_shapes_of_lids_are_mixed_alike(seed, knots, gazes):
    rng = np.random.default_rng(seed)
    points, rows = rng.normal(size=(COUNT, 3)).astype(np.float32), rng.permutation(COUNT)[:20].astype(np.int32)
    closings = np.concatenate([[0.0], np.sort(rng.uniform(0.05, 0.95, knots - 2)), [1.0]])
    path, towards = rng.normal(size=(knots, 20, 3)).astype(np.float32), rng.uniform(0, 1, gazes)
    turned = rng.normal(size=(gazes, knots, 20, 3)).astype(np.float32)
    lid, closing = rng.integers(0, 2, 20).astype(np.uint8), rng.uniform(-0.5, 1.5, 2)
    one, other = both("add_between", points, rows, lid, closings, path, turned, closing, towards)
    assert np.abs(one - other).max() < SINGLE
    still = np.setdiff1d(np.arange(COUNT), rows)
    assert np.array_equal(one[still], points[still])


@settings(max_examples=40, deadline=None)
@given(SEEDS)
def test_bones_of_lids_turn_alike_and_whole_weights_keep_the_distance(seed):
    rng = np.random.default_rng(seed)
    points, rows = rng.normal(size=(COUNT, 3)).astype(np.float32), np.arange(20, dtype=np.int32)
    lid, weights, centre = rng.integers(0, 2, 20).astype(np.uint8), rng.uniform(0, 1, 20).astype(np.float32), rng.normal(size=3)
    weights[:5] = 1
    one, other = both("turn_about", points, rows, lid, weights, centre, Rotation.random(2, random_state=seed).as_matrix())
    assert np.abs(one - other).max() < SINGLE
    before, after = (np.linalg.norm(p[:5] - centre, axis=1) for p in (points, one))
    assert np.abs(before - after).max() < SINGLE


@settings(max_examples=40, deadline=None)
@given(SEEDS, st.integers(0, 4))
def test_lids_are_pushed_off_the_eye_alike_and_as_far_as_their_closing_asks(seed, lids):
    rng = np.random.default_rng(seed)
    points = (rng.normal(size=(COUNT, 3)) + [0, 0, 3]).astype(np.float32)
    vertices, lid = np.arange(20, dtype=np.int32), rng.integers(-1, lids, 20).astype(np.int32)
    clearance, swell, settle = (rng.uniform(0, 0.4, 20).astype(np.float32) for _ in range(3))
    closing, turn, radius = rng.uniform(-0.2, 1.3, lids), Rotation.random(random_state=seed).as_matrix(), 3.2
    profile = np.full((181, 64), radius, np.float32)
    roots = np.sort(rng.integers(0, 20, 10)).astype(np.int32)
    relief = (vertices, np.ones(20, np.float32), clearance, settle, swell, lid, profile, np.arange(20, 30, dtype=np.int32), roots)
    one, other = both("relieve", points, *relief, closing, turn, np.zeros(3))
    assert np.abs(one - other).max() < SINGLE
    closed = np.append(np.clip(closing, 0, 1), 0)[lid]
    wanted = radius + clearance + swell * closed * (2 - closed)
    stood, stands = (np.linalg.norm(p[:20], axis=1) for p in (points, one))
    assert np.abs(stands - np.maximum(wanted, stood - settle)).max() < SINGLE
    moved = one[:20] - points[:20]
    assert np.abs(one[20:30] - points[20:30] - moved[roots]).max() < SINGLE


def test_what_does_not_close_stays_to_the_bit(clean):
    lids, rest = clean.evaluator.rig.lids[0], clean.evaluator.meshes.rest
    for loops in (kernels, plain):
        points = rest.copy()
        lids.turn(loops, points, np.zeros(2), np.zeros(2))
        assert np.array_equal(points, rest)


def test_a_relief_without_lids_closes_with_all_alike(clean):
    relief: CompiledEyeRelief = clean.evaluator.rig.eye_reliefs[0]
    rest, eye = clean.evaluator.meshes.rest, relief.eye
    one, other = rest.copy(), rest.copy()
    relief.push_at(one, np.eye(3), eye.centre, 0.7)
    relief.push(other, np.eye(3), eye.centre, np.full(4, 0.7))
    assert np.array_equal(one, other)


def test_followers_come_as_the_rows_they_follow():
    """Whatever order parts have them in; what follows none of them stays."""
    vertices, rows = followers_of([(slice(10, 13), np.array([4, -1, 0])), (slice(20, 22), np.array([2, 0]))])
    assert rows.tolist() == [0, 0, 2, 4]
    assert vertices.tolist() == [12, 21, 20, 10]
    assert [len(x) for x in followers_of([])] == [0, 0]
