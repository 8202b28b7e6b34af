"""Which triangles cross, and how deep one surface lies inside another, against numpy, libigl and closed forms."""

from __future__ import annotations

from itertools import product

import igl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.contact.clash import Body, across_edges, crossings, deepest_inside, whole

from tests.core.solids import box, posed, sphere, together


def apart(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """Which triangles (T, 3, 3) and (U, 3, 3) are apart (T, U) along any of their normals and the normals of pairs of their edges
    (separating axes)?"""
    edges = [np.roll(t, -1, axis=1) - t for t in (one, other)]
    normals = [np.cross(e[:, 0], e[:, 1]) for e in edges]
    shape = (len(one), len(other), 3)
    axes = [np.broadcast_to(normals[0][:, None], shape), np.broadcast_to(normals[1][None], shape)]
    axes += [np.cross(edges[0][:, None, i], edges[1][None, :, j]) for i, j in product(range(3), range(3))]
    along = np.stack(axes, axis=2)
    spans, spans_other = np.einsum("tkc,tuac->tuak", one, along), np.einsum("ukc,tuac->tuak", other, along)
    low, high, low_other, high_other = spans.min(axis=3), spans.max(axis=3), spans_other.min(axis=3), spans_other.max(axis=3)
    return ((high < low_other) | (high_other < low)).any(axis=2)


def sampled(points: np.ndarray, triangles: np.ndarray, solid: tuple[np.ndarray, np.ndarray], per: int = 24) -> float:
    """The deepest of many samples of a surface inside a closed solid, by libigl."""
    u, v = (x.ravel() for x in np.meshgrid(np.linspace(0, 1, per), np.linspace(0, 1, per)))
    share = np.stack([1 - u - v, u, v], axis=1)[u + v <= 1 + 1e-9]
    places = np.einsum("sk,tkc->tsc", share, points[triangles]).reshape(-1, 3)
    signed = igl.signed_distance(places, solid[0], solid[1].astype(np.int64), sign_type=igl.SIGNED_DISTANCE_TYPE_PSEUDONORMAL)[0]
    return max(0.0, -float(signed.min()))


def depth(surface, solid) -> float:
    one, other = posed(surface), posed(solid)
    crossed = crossings(one, other)[:, 0]
    found = deepest_inside(one, whole(other), crossed, across_edges(surface[1]))
    if found.triangle >= 0:  # where it says it is, it is as deep as it says
        assert other.signed(found.point[None], np.inf)[0] == pytest.approx(-found.depth, abs=1e-9)
        assert one.closest(found.point[None])[0][0] < 1e-9
    return found.depth


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6))
def test_triangles_cross_where_no_axis_parts_them(seed):
    rng = np.random.default_rng(seed)
    one, other = (rng.normal(size=(20, 3, 3)) * 0.8 + rng.normal(size=(20, 1, 3)) for _ in range(2))
    trees = [posed((t.reshape(-1, 3), np.arange(60).reshape(20, 3))) for t in (one, other)]
    expected = set(map(tuple, np.argwhere(~apart(one, other)).tolist()))
    assert set(map(tuple, crossings(*trees).tolist())) == expected


def test_a_mesh_crosses_itself_once_for_each_pair_and_neighbours_do_not():
    two = together(sphere(1.0), sphere(1.0, (1.2, 0, 0)))
    tree = posed(two)
    half = len(two[1]) // 2
    pairs = crossings(tree, tree, same=True)
    assert len(pairs)
    assert ((pairs < half).sum(axis=1) == 1).all()  # one of each ball, none within a ball
    assert len({tuple(sorted(p)) for p in pairs.tolist()}) == len(pairs)
    between = crossings(posed(sphere(1.0)), posed(sphere(1.0, (1.2, 0, 0))))
    assert {tuple(sorted(p)) for p in pairs.tolist()} == {(i, j + half) for i, j in between.tolist()}


def test_more_crossings_than_there_was_room_for_are_all_found():
    points = np.array([[-1, -1, 0], [1, -1, 0], [0, 1, 0], [0, 0, -1], [0.1, 0, 1], [-0.1, 0.1, 1]], float)
    many = np.tile([[0, 1, 2]], (90, 1)), np.tile([[3, 4, 5]], (90, 1))
    assert len(crossings(*(posed((points, t)) for t in many))) == 90 * 90


def test_a_corner_in_a_box_is_as_deep_as_the_nearest_wall():
    assert depth(box(0, 2), box(1.8, 4)) == pytest.approx(0.2, rel=0.02)
    assert depth(box(1.8, 4), box(0, 2)) == pytest.approx(0.2, rel=0.02)
    assert depth(box(0, 2), box(2.1, 4)) == 0


def test_a_thin_spike_through_a_large_face_is_found_from_both_sides():
    spike = np.array([[0.4, 0.3, 1.0], [0.46, 0.3, 1.0], [0.43, 0.36, 1.0], [0.43, 0.32, -0.3]])
    spike = spike, np.array([[0, 1, 2], [0, 3, 1], [1, 3, 2], [2, 3, 0]])
    slab = box(0, 1)[0] * [1, 1, 0.8], box(0, 1)[1]
    assert depth(spike, slab) == pytest.approx(0.343, rel=0.02)  # where the walls at y = 0 and z = 0.8 are as near as one another
    assert 0.005 < depth(slab, spike) < 0.03  # no face of the slab is deeper in it than it is thick


@pytest.mark.parametrize("seed", range(8))
def test_depths_are_those_of_a_dense_sampling(seed):
    rng = np.random.default_rng(seed)
    ball, other = sphere(1.0), sphere(0.8)
    turned = (other[0] * rng.uniform(0.5, 1.4, 3)) @ Rotation.random(random_state=seed).as_matrix().T
    turned = turned + rng.normal(size=3) * 0.9
    for surface, solid in (((turned, other[1]), ball), (ball, (turned, other[1]))):
        expected = sampled(*surface, solid)
        assert depth(surface, solid) == pytest.approx(expected, abs=max(0.003, 0.025 * expected))


def test_only_what_counts_is_measured_and_a_design_is_taken_off():
    cube, other = box(0, 2), box(1.5, 4)
    one, solid = posed(cube), posed(other)
    crossed, beside = crossings(one, solid)[:, 0], across_edges(cube[1])
    nothing = deepest_inside(one, Body(solid, solid, np.zeros(12, bool), solid), crossed, beside)
    assert (nothing.depth, nothing.triangle) == (0, -1)
    less = deepest_inside(one, whole(solid), crossed, beside, designed=np.full(12, 0.3))
    assert less.depth == pytest.approx(0.2, abs=5e-3)


def test_across_each_edge_stands_the_neighbour():
    _, triangles = sphere(1.0)
    beside = across_edges(triangles)
    assert (beside >= 0).all()
    for t, k in product(range(len(triangles)), range(3)):
        edge = {triangles[t][k], triangles[t][(k + 1) % 3]}
        assert edge <= set(triangles[beside[t, k]].tolist())
    assert (across_edges(triangles[:1]) == -1).all()
