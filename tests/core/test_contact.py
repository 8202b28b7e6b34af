"""Trees of triangles: nearest points, sides and depths against closed forms, brute force and libigl, built once and posed again."""

from __future__ import annotations

import igl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.contact.tree import TriangleTree, path_through
from tightseam.geometry.distance import signed_distance

from tests.core.solids import box, posed, sphere, together

REACH = 0.8


def scattered(points: np.ndarray, count: int, seed: int) -> np.ndarray:
    rng = np.random.default_rng(seed)
    low, high = points.min(axis=0) - 0.6, points.max(axis=0) + 0.6
    return rng.uniform(low, high, (count, 3))


@settings(deadline=None)  # the first one may compile
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


@settings(deadline=None)  # the first one may compile
@given(st.integers(0, 10**6))
def test_the_nearest_of_many_is_the_least_distance_in_any_pose(seed):
    rng = np.random.default_rng(seed)
    points, triangles = together(sphere(1.0), sphere(0.6, (0.8, 0, 0.2)))
    tree = TriangleTree(points, triangles)
    moved = points + 0.1 * np.sin(3 * points[:, [1, 2, 0]] + rng.uniform(0, 6, 3))
    probe = sphere(0.5)[0] + rng.uniform(-2.2, 2.2, 3)
    distance = tree.at(moved).closest(probe)[0]
    k, nearest = tree.at(moved).nearest(probe, path_through(probe), REACH)
    assert nearest == pytest.approx(min(distance.min(), REACH), abs=1e-12)
    assert min(distance[k], REACH) == pytest.approx(nearest, abs=1e-12)
    assert tree.at(moved).signed(probe, REACH) == pytest.approx(signed_distance(probe, moved, triangles, REACH), abs=1e-9)


def test_a_path_goes_through_every_point_once_and_mostly_a_little():
    points = sphere(1.0)[0]
    path = path_through(points)
    assert sorted(path.tolist()) == list(range(len(points)))
    steps = np.linalg.norm(np.diff(points[path], axis=0), axis=1)
    assert np.median(steps) < 0.5
