"""Mirror planes, mirror images, flat cuts and loops, against what can be worked out by hand."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.geometry.loops import LoopWalker, RingStepper
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane, estimate_plane, partners, symmetry_map
from tightseam.geometry.triangulate import triangulate_with_faces

from tests.core.shapes import ball, cube, grid

ANGLES = st.floats(0, 2 * np.pi)
directions = st.tuples(st.floats(-1, 1), ANGLES).map(
    lambda t: np.array([np.sqrt(1 - t[0] ** 2) * np.cos(t[1]), np.sqrt(1 - t[0] ** 2) * np.sin(t[1]), t[0]])
)
places = st.tuples(*[st.floats(-20, 20)] * 3).map(np.array)


@given(directions, places, st.integers(0, 99))
def test_mirroring_twice_gives_the_points_back_and_keeps_lengths(normal, point, seed):
    plane = Plane(point, normal)
    points = np.random.default_rng(seed).normal(size=(20, 3)) * 10
    image = plane.mirrored(points)
    assert np.abs(plane.mirrored(image) - points).max() < 1e-9
    assert np.abs(plane.distance(image) + plane.distance(points)).max() < 1e-9
    assert np.linalg.norm(image[1] - image[0]) == pytest.approx(np.linalg.norm(points[1] - points[0]), abs=1e-9)


def blob(seed: int, half: int = 400) -> np.ndarray:
    """A cloud that is exactly symmetric about x = 0 and about nothing else."""
    rng = np.random.default_rng(seed)
    one = np.abs(rng.normal(size=(half, 3))) * [4, 9, 6] + [0.2, 0, 0]
    return np.concatenate([one, one * [-1, 1, 1]])


@settings(max_examples=25, deadline=None)
@given(st.floats(-25, 25), st.floats(-8, 8), st.integers(0, 50))
def test_the_mirror_plane_of_a_turned_cloud_is_found(degrees, shift, seed):
    a = np.radians(degrees)
    turn = np.array([[np.cos(a), 0, np.sin(a)], [0, 1, 0], [-np.sin(a), 0, np.cos(a)]])
    points = blob(seed) @ turn.T + [shift, 1, -2]
    starts = [Plane(points.mean(axis=0), np.array([np.cos(t), 0, -np.sin(t)])) for t in np.radians([-30, -15, 0, 15, 30])]
    plane, spread = estimate_plane(points, starts)
    assert spread < 1e-6
    assert abs(plane.normal @ turn[:, 0]) == pytest.approx(1, abs=1e-9)


def test_the_plane_holds_where_a_fifth_of_one_side_is_dented():
    points = blob(3)
    points[:80] += [0.0, 0.4, 0.3]
    plane, spread = estimate_plane(points, [Plane(np.array([0.5, 0, 0]), np.array([1.0, 0, 0]))])
    assert abs(plane.normal[0]) > np.cos(np.radians(0.3))
    assert spread < 0.02


def test_partners_of_partners_are_the_vertices_themselves_and_the_middle_is_its_own():
    points, polygons = grid(8, 5)
    points = points - [4, 0, 0]
    plane = Plane(np.zeros(3), np.array([1.0, 0, 0]))
    found = symmetry_map(points, polygons, plane, 1e-6)
    assert np.array_equal(found[found], np.arange(len(points)))
    assert np.array_equal(points[found], points * [-1, 1, 1])
    assert (found == np.arange(len(points))).sum() == 6
    assert np.array_equal(found, partners(points, 1e-6, plane))


def test_vertices_that_left_their_mirror_image_are_found_by_walking_the_faces():
    points, polygons = grid(10, 10)
    points = points - [5, 0, 0]
    wild = points.copy()
    rng = np.random.default_rng(2)
    off = np.flatnonzero(points[:, 0] > 1.5)
    wild[off] += rng.uniform(-0.3, 0.3, (len(off), 3))
    plane = Plane(np.zeros(3), np.array([1.0, 0, 0]))
    assert (partners(wild, 1e-6, plane)[off] < 0).all()
    assert np.array_equal(symmetry_map(wild, polygons, plane, 1e-6), partners(points, 1e-6, plane))


def test_a_vertex_without_an_image_has_none():
    points, polygons = grid(4, 4)
    points = points - [2, 0, 0]
    corner = int(polygons.corners[0])
    cut = Polygons.from_lists([p for p in polygons.lists() if corner not in p])
    points[corner] = [30, 30, 30]
    found = symmetry_map(points, cut, Plane(np.zeros(3), np.array([1.0, 0, 0])), 1e-6)
    assert found[corner] == -1
    assert (found >= 0).sum() == len(points) - 2


@given(st.floats(-0.95, 0.95), directions)
def test_a_cut_through_a_ball_is_a_circle_of_the_radius_pythagoras_gives(height, normal):
    points, polygons = ball(5.0, 96, 64)
    triangles, _ = triangulate_with_faces(points, polygons)
    lines = section(points, triangles, Plane(normal * height * 5, normal))
    assert len(lines) == 1
    assert lines[0].closed
    expected = 5 * np.sqrt(1 - height**2)
    radii = np.linalg.norm(lines[0].points - normal * height * 5, axis=1)
    assert np.abs(radii - expected).max() < 0.05
    assert lines[0].length == pytest.approx(2 * np.pi * expected, rel=0.08, abs=0.1)


@pytest.mark.parametrize("seed", range(6))
def test_cuts_are_as_long_as_an_independent_library_finds_them(seed):
    rng = np.random.default_rng(seed)
    points, polygons = ball(3.0, 20, 12)
    points = points * [1, 1.7, 0.8] + rng.normal(scale=0.05, size=points.shape)
    triangles, _ = triangulate_with_faces(points, polygons)
    normal = rng.normal(size=3)
    normal /= np.linalg.norm(normal)
    plane = Plane(rng.normal(scale=0.5, size=3), normal)
    theirs = trimesh.intersections.mesh_plane(trimesh.Trimesh(points, triangles, process=False), plane.normal, plane.point)
    ours = sum(
        line.length + (np.linalg.norm(line.points[0] - line.points[-1]) if line.closed else 0) for line in section(points, triangles, plane)
    )
    assert ours == pytest.approx(np.linalg.norm(theirs[:, 0] - theirs[:, 1], axis=1).sum(), rel=1e-9)


def test_a_cut_beside_the_mesh_is_empty_and_of_an_open_sheet_is_open():
    points, polygons = grid(6, 4)
    triangles, _ = triangulate_with_faces(points, polygons)
    assert section(points, triangles, Plane(np.array([9.0, 0, 0]), np.array([1.0, 0, 0]))) == []
    lines = section(points, triangles, Plane(np.array([2.5, 0, 0]), np.array([1.0, 0, 0])))
    assert [line.closed for line in lines] == [False]
    assert lines[0].length == pytest.approx(4)
    assert np.abs(lines[0].points[:, 0] - 2.5).max() < 1e-12


def test_a_walk_goes_straight_over_a_sheet_and_ends_at_its_border():
    _, polygons = grid(6, 4)
    walker = LoopWalker(polygons)
    at = lambda i, j: j * 7 + i  # noqa: E731
    assert walker.walk(at(1, 2), at(2, 2)) == [at(i, 2) for i in range(1, 7)]
    assert walker.opposite(at(3, 1), at(3, 2)) == at(3, 3)
    assert walker.opposite(at(3, 3), at(3, 4)) is None
    assert walker.neighbours(at(3, 2)) == {at(2, 2), at(4, 2), at(3, 1), at(3, 3)}
    assert walker.neighbours(10**6) == set()


def test_rings_of_a_ball_are_loops_and_step_to_one_another():
    _, polygons = ball(1.0, 12, 8)
    walker = LoopWalker(polygons)
    ring = lambda r: [1 + r * 12 + k for k in range(12)]  # noqa: E731
    assert walker.loop_through(ring(3)[0], [ring(3)[5]]) in (ring(3), [ring(3)[0], *ring(3)[:0:-1]])
    assert walker.loop_through(ring(3)[0], [ring(4)[0], ring(3)[2]]) is None
    stepper = RingStepper(polygons, 2 + 7 * 12)
    there = [stepper.step(np.array(loop)) for loop in (ring(3), ring(3)[::-1])]
    assert sorted(sorted(x.tolist()) for x in there) == [ring(2), ring(4)]
    back = stepper.step(there[0][::-1])
    assert back is not None
    assert sorted(back.tolist()) == ring(3)
    assert stepper.step(np.array(ring(0))) is None or stepper.step(np.array(ring(0)[::-1])) is None  # triangles at the pole


def test_a_pole_ends_every_walk():
    _, polygons = cube()
    walker = LoopWalker(polygons)
    assert walker.walk(0, 1) == [0, 1]
