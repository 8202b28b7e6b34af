"""Trees of triangles: nearest points, sides and depths against closed forms, brute force and libigl, built once and posed again."""

from __future__ import annotations

import igl
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.contact.clash import crossings
from tightseam.contact.gap import nearest_pair
from tightseam.contact.tree import TriangleTree

from tests.core.samples import signed_distance
from tests.core.solids import box, posed, sphere, together

REACH = 0.8


def scattered(points: np.ndarray, count: int, seed: int) -> np.ndarray:
    rng = np.random.default_rng(seed)
    low, high = points.min(axis=0) - 0.6, points.max(axis=0) + 0.6
    return rng.uniform(low, high, (count, 3))


@given(st.integers(0, 10**6), st.integers(1, 60))
def test_the_nearest_point_is_that_of_brute_force(seed, count):
    rng = np.random.default_rng(seed)
    points = rng.normal(size=(40, 3))
    triangles = np.array([rng.choice(40, 3, replace=False) for _ in range(count)])
    queries = scattered(points, 20, seed)
    distance, rows, places = posed((points, triangles)).closest(queries)
    squared, _, expected = igl.point_mesh_squared_distance(queries, points, triangles.astype(np.int64))
    assert distance == pytest.approx(np.sqrt(squared), abs=1e-12)
    assert np.abs(places - expected).max() < 1e-6  # two triangles may be as near as one another only by accident
    assert np.linalg.norm(places - queries, axis=1) == pytest.approx(distance, abs=1e-12)
    assert ((rows >= 0) & (rows < count)).all()


def test_what_is_beyond_reach_is_said_to_be():
    tree = posed(sphere(1.0))
    queries = np.array([[3.0, 0, 0], [1.2, 0, 0]])
    distance, rows, places = tree.closest(queries, 0.5)
    assert distance[0] == 0.5
    assert (rows[0], places[0].tolist()) == (-1, [3, 0, 0])
    assert distance[1] < 0.25
    assert tree.signed(queries, 0.5)[0] == 0.5


def test_two_boxes_that_overlap_are_as_deep_as_their_nearest_wall():
    """The closed form where islands overlap: a point in both is inside, at the distance of the nearest of all walls."""
    mesh = together(box(0, 2), box(1, 3))
    queries = np.array([[1.75, 1.5, 1.5], [0.4, 1, 1], [2.5, 2.5, 2.6], [3.3, 2, 2], [0.5, 2.5, 2.5]])
    expected = [-0.25, -0.4, -0.4, 0.3, 0.5]
    assert posed(mesh).signed(queries, 2.0) == pytest.approx(expected, abs=1e-12)
    assert signed_distance(queries, *mesh, 2.0) == pytest.approx(expected, abs=1e-12)


@pytest.mark.parametrize("flipped", [False, True])
def test_sides_are_those_of_the_winding_number_of_libigl(flipped):
    points, triangles = together(sphere(1.0), sphere(0.7, (0.6, 0.1, 0)), box(-1.4, -0.3))
    triangles = triangles[:, ::-1] if flipped else triangles
    tree = TriangleTree(points, triangles)
    assert tree.closed
    queries = scattered(points, 2000, 5)
    exact = igl.winding_number(points, np.ascontiguousarray(triangles), queries)
    assert (tree.at(points).inside(queries) == (np.abs(exact) > 0.5)).all()


def test_the_winding_number_of_an_open_surface_is_near_the_exact_one():
    points, triangles = sphere(1.0)
    open_ones = triangles[points[triangles].mean(axis=1)[:, 1] < 0.6]
    tree = TriangleTree(points, open_ones)
    assert not tree.closed
    queries = scattered(points, 1000, 6)
    exact = igl.winding_number(points, open_ones.astype(np.int64), queries)
    assert tree.at(points).winding(queries) == pytest.approx(exact, abs=0.03)
    assert (tree.at(points).inside(queries) == (exact > 0.5))[np.abs(exact - 0.5) > 0.03].all()


@given(st.integers(0, 10**6))
def test_signed_distance_is_that_of_libigl_in_any_pose(seed):
    rng = np.random.default_rng(seed)
    points, triangles = together(sphere(1.0), sphere(0.6, (0.8, 0, 0.2)))
    moved = points + 0.1 * np.sin(3 * points[:, [1, 2, 0]] + rng.uniform(0, 6, 3))
    probe = sphere(0.5)[0] + rng.uniform(-2.2, 2.2, 3)
    signed = TriangleTree(points, triangles).at(moved).signed(probe, REACH)
    assert signed == pytest.approx(signed_distance(probe, moved, triangles, REACH), abs=1e-9)


@given(st.integers(0, 10**6), st.integers(1, 40))
def test_surfaces_are_as_far_apart_as_their_nearest_samples(seed, count):
    """One is sampled densely, the distance of each sample to the other is exact: near the nearest point it grows with the square."""
    rng = np.random.default_rng(seed)
    one, other = (rng.normal(size=(count, 3, 3)) * rng.uniform(0.2, 1.0) + rng.normal(size=(count, 1, 3)) for _ in range(2))
    trees = [posed((t.reshape(-1, 3), np.arange(3 * count).reshape(count, 3))) for t in (one, other)]
    if len(crossings(*trees)):
        return
    shares = np.array([(i, j, 40 - i - j) for i in range(41) for j in range(41 - i)]) / 40
    samples = np.einsum("sk,tkc->tsc", shares, one).reshape(-1, 3)
    expected = trees[1].closest(samples)[0].min()
    distance, triangle, point = nearest_pair(*trees, np.inf)
    spacing = max(np.linalg.norm(np.roll(one, 1, axis=1) - one, axis=2).max() / 40, 1e-6)
    assert expected - spacing**2 / max(expected, spacing) <= distance <= expected + 1e-9
    assert nearest_pair(*trees[::-1], np.inf)[0] == pytest.approx(distance, abs=1e-9)
    assert trees[1].closest(point[None])[0][0] == pytest.approx(distance, abs=1e-9)
    assert posed((one[triangle], np.array([[0, 1, 2]]))).closest(point[None])[0][0] < 1e-9


def test_boxes_and_balls_are_as_far_apart_as_their_walls():
    assert nearest_pair(posed(box(0, 1)), posed(box(1.5, 2)), 9.0)[0] == pytest.approx(np.sqrt(0.75))  # corner to corner
    wide = box(0, 1)[0] * [4, 1, 1], box(0, 1)[1]
    across = box(0, 1)[0] * [1, 4, 1] + [1.5, -1.5, 1.3], box(0, 1)[1]
    assert nearest_pair(posed(wide), posed(across), 9.0)[0] == pytest.approx(0.3)  # wall to wall, no corner near
    edge_on = box(-0.5, 0.5)[0] @ Rotation.from_euler("z", 45, degrees=True).as_matrix().T, box(0, 1)[1]
    crosswise = box(-0.5, 0.5)[0] @ Rotation.from_euler("y", 45, degrees=True).as_matrix().T + [2, 0, 0], box(0, 1)[1]
    assert nearest_pair(posed(edge_on), posed(crosswise), 9.0)[0] == pytest.approx(2 - np.sqrt(2))  # edge to edge
    assert nearest_pair(posed(box(0, 1)), posed(box(3, 4)), 0.8)[:2] == (0.8, -1)  # beyond reach
