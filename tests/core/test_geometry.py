"""Geometry against closed forms, an independent library, and properties that must hold."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.geometry.adjacency import boundary, edges, islands, valence
from tightseam.geometry.distance import barycentric, closest_points, winding
from tightseam.geometry.geodesic import distance_from, surface_graph
from tightseam.geometry.laplacian import laplacian
from tightseam.geometry.loops import LoopWalker
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.octahedral import octahedral_cells, octahedral_directions
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.samples import surface_samples
from tightseam.geometry.solve import solve_with_fixed
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.subdivide import catmull_clark
from tightseam.geometry.symmetry import partners
from tightseam.geometry.triangulate import triangulate

from tests.core.samples import signed_distance
from tests.core.shapes import ball, cube, grid

MIRROR = np.array([-1, 1, 1])


def test_polygons_come_back_from_lists():
    lists = [[0, 1, 2], [2, 1, 3, 4], [4, 3, 5, 6, 7]]
    assert Polygons.from_lists(lists).lists() == lists


def test_the_next_corner_stays_within_its_polygon():
    polygons = Polygons.from_lists([[0, 1, 2], [2, 1, 3, 4]])
    assert polygons.corners[polygons.next_corner].tolist() == [1, 2, 0, 1, 3, 4, 2]


def test_quads_split_along_the_shorter_diagonal():
    points = np.array([[0, 0, 0], [3, 0, 0], [3.5, 1, 0], [0.2, 1, 0]])
    triangles = triangulate(points, Polygons.from_lists([[0, 1, 2, 3]]))
    assert {frozenset(t) for t in triangles.tolist()} == {frozenset({0, 1, 3}), frozenset({1, 2, 3})}


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 2**32 - 1), st.booleans())
def test_a_mirrored_mesh_is_triangulated_as_the_mirror_image(seed, regular):
    points, polygons = grid(4, 3)
    points = points + [0.5, 0, 0]
    if not regular:
        points = points + np.random.default_rng(seed).normal(scale=0.15, size=points.shape)
    flipped = Polygons.from_lists([q[::-1] for q in polygons.lists()])
    one = {frozenset(t) for t in triangulate(points, polygons).tolist()}
    other = {frozenset(t) for t in triangulate(points * MIRROR, flipped).tolist()}
    assert one == other


def test_triangles_keep_area_and_count():
    points, polygons = ball(2.0)
    mesh = trimesh.Trimesh(points, triangulate(points, polygons), process=False)
    assert mesh.is_watertight
    assert mesh.is_winding_consistent
    assert mesh.volume == pytest.approx(4 / 3 * np.pi * 8, rel=0.02)


def test_edges_islands_and_boundary_of_two_sheets():
    points, polygons = grid(2, 1)
    two = Polygons.from_lists(polygons.lists() + [[v + len(points) for v in q] for q in polygons.lists()])
    count = 2 * len(points)
    assert len(edges(two, count).ends) == 14
    assert len(set(islands(two, count).tolist())) == 2
    assert boundary(two, count).all()
    assert sorted(set(valence(two, count).tolist())) == [2, 3]


def test_a_loop_round_a_ball_is_found_and_closed():
    _, polygons = ball(1.0, around=12, rings=6)
    walker = LoopWalker(polygons)
    equator = [1 + 2 * 12 + k for k in range(12)]
    loop = walker.loop_through(equator[0], [equator[5]])
    assert loop is not None
    assert sorted(loop) == equator
    assert walker.loop_through(equator[0], [1]) is None


def test_surface_distance_on_a_sheet_is_close_to_the_straight_line():
    points, polygons = grid(20, 20, 0.5)
    distance, nearest = distance_from(surface_graph(points, polygons), np.array([0]))
    straight = np.linalg.norm(points, axis=1)
    assert (distance >= straight - 1e-9).all()
    assert (distance <= straight * 1.083 + 1e-9).all()
    assert (nearest == 0).all()


def test_each_vertex_goes_to_its_nearest_source():
    points, polygons = grid(10, 2)
    _, nearest = distance_from(surface_graph(points, polygons), np.array([0, 10]))
    assert (nearest[points[:, 0] < 5] == 0).all()
    assert (nearest[points[:, 0] > 5] == 10).all()


def test_the_laplacian_kills_constants_and_knows_the_area():
    points, polygons = ball(1.5)
    matrix, mass = laplacian(points, triangulate(points, polygons))
    assert np.abs(matrix @ np.ones(len(points))).max() < 1e-9
    assert np.abs(matrix - matrix.T).max() < 1e-12
    assert mass.sum() == pytest.approx(4 * np.pi * 1.5**2, rel=0.01)
    off_diagonal = matrix.copy()
    off_diagonal.setdiag(0)
    assert off_diagonal.max() <= 1e-9  # intrinsic Delaunay: the maximum principle holds


def test_the_dirichlet_energy_of_z_on_a_unit_ball_is_the_integral():
    points, polygons = ball(1.0, 96, 48)
    matrix, mass = laplacian(points, triangulate(points, polygons))
    z = points[:, 2]
    assert z @ (matrix @ z) == pytest.approx(8 * np.pi / 3, rel=0.005)  # integral of |grad z|² over the sphere
    assert z @ (mass * z) == pytest.approx(4 * np.pi / 3, rel=0.005)  # integral of z²


def test_a_harmonic_function_on_a_strip_is_linear():
    points, polygons = grid(8, 1)
    matrix, _ = laplacian(points, triangulate(points, polygons))
    fixed = (points[:, 0] == 0) | (points[:, 0] == 8)
    values = points[:, :1] / 8
    x = solve_with_fixed(matrix, np.zeros((len(points), 1)), fixed, np.where(fixed[:, None], values, 0))
    assert np.abs(x - values).max() < 1e-9


def test_normals_agree_with_trimesh_weighted_by_area():
    points, polygons = ball(1.0, 16, 8)
    triangles = triangulate(points, polygons)
    mesh = trimesh.Trimesh(points, triangles, process=False)
    expected = np.zeros_like(points)
    for k in range(3):
        np.add.at(expected, triangles[:, k], mesh.face_normals * mesh.area_faces[:, None])
    expected /= np.linalg.norm(expected, axis=1, keepdims=True)
    assert np.abs(vertex_normals(points, triangles) - expected).max() < 1e-9


def test_signed_distance_to_a_ball_is_the_closed_form():
    points, polygons = ball(1.0, 96, 48)
    triangles = triangulate(points, polygons)
    queries = np.random.default_rng(1).normal(size=(200, 3))
    queries *= np.random.default_rng(2).uniform(0.4, 1.6, (200, 1)) / np.linalg.norm(queries, axis=1, keepdims=True)
    found = signed_distance(queries, points, triangles, reach=2.0)
    assert np.abs(found - (np.linalg.norm(queries, axis=1) - 1)).max() < 0.004
    assert ((winding(queries, points, triangles) > 0.5) == (np.linalg.norm(queries, axis=1) < 0.999)).all()


def test_distance_beyond_reach_is_capped():
    points, polygons = ball(1.0, 16, 8)
    assert signed_distance(np.array([[9.0, 0, 0]]), points, triangulate(points, polygons), reach=0.5)[0] == 0.5


def test_closest_points_agree_with_trimesh_and_mix_from_their_corners():
    points, polygons = ball(1.0, 24, 12)
    triangles = triangulate(points, polygons)
    queries = np.random.default_rng(3).normal(size=(60, 3))
    distance, face, closest = closest_points(queries, points, triangles)
    _, expected, _ = trimesh.proximity.closest_point_naive(trimesh.Trimesh(points, triangles, process=False), queries)
    assert np.abs(distance - expected).max() < 1e-9
    corners = points[triangles[face]]
    weights = barycentric(closest, corners)
    assert np.abs(np.einsum("qc,qcx->qx", weights, corners) - closest).max() < 1e-9
    assert weights.min() >= 0


def test_samples_are_mixtures_that_sum_to_one():
    points, polygons = cube(2.0)
    triangles = triangulate(points, polygons)
    mix, owners = surface_samples(triangles, len(points))
    assert np.abs(np.asarray(mix.sum(axis=1)) - 1).max() < 1e-12
    assert mix.shape[0] == 8 + 18 + 12
    assert np.abs((mix @ points)[-12:] - points[triangles].mean(axis=1)).max() < 1e-12
    assert owners.shape == (38, 3)


def test_catmull_clark_of_a_cube_is_the_textbook_one():
    points, polygons = cube(2.0)
    matrix, finer = catmull_clark(polygons, len(points))
    fine = matrix @ points
    assert len(fine) == 8 + 12 + 6
    assert len(finer) == 24
    assert np.abs(np.asarray(matrix.sum(axis=1)) - 1).max() < 1e-12
    assert np.abs(np.abs(fine[:8]) - 5 / 9).max() < 1e-12  # corner: (F + 2 R + 0 P) / 3 with F = 1/3, R = 2/3 along each axis
    assert np.abs(np.linalg.norm(fine[8:20], axis=1) - np.sqrt(2) * 0.75).max() < 1e-12
    assert np.abs(np.linalg.norm(fine[20:], axis=1) - 1).max() < 1e-12


def test_catmull_clark_keeps_a_flat_sheet_flat_and_its_border_a_spline():
    points, polygons = grid(3, 2)
    matrix, finer = catmull_clark(polygons, len(points))
    fine = matrix @ points
    assert np.abs(fine[:, 2]).max() == 0
    assert fine[1, 1] == 0  # a border vertex stays on a straight border
    assert set(finer.sizes.tolist()) == {4}
    assert np.abs(np.asarray(matrix.sum(axis=1)) - 1).max() < 1e-12


def test_a_ball_is_fitted_in_spite_of_a_cornea_and_a_hole():
    points, _ = ball(1.8, 48, 24)
    cornea = points[:, 2] > 1.5
    points = points.copy()
    points[cornea] *= 1.07
    points = points[points[:, 2] > -1.4] + [3.0, 16.0, 5.0]
    centre, radius = fit_sphere(points)
    assert np.abs(centre - [3.0, 16.0, 5.0]).max() < 0.018
    assert radius == pytest.approx(1.8, rel=0.01)


def test_an_exact_ball_is_fitted_exactly():
    points, _ = ball(2.25, 16, 8)
    centre, radius = fit_sphere(points + 4.0)
    assert np.abs(centre - 4.0).max() < 1e-6
    assert abs(radius - 2.25) < 1e-6


def test_partners_are_mutual():
    points, _ = grid(4, 4)
    points = points - [2, 0, 0]
    partner = partners(points, 1e-6)
    assert (partner[partner] == np.arange(len(points))).all()
    assert partners(points + [0.3, 0, 0], 1e-3).max() == -1


@pytest.mark.parametrize("size", [2, 7, 64])
def test_every_cell_of_the_octahedral_map_holds_its_own_direction(size):
    directions = octahedral_directions(size)
    assert np.allclose(np.linalg.norm(directions, axis=1), 1)
    assert np.array_equal(octahedral_cells(directions * 3.7, size), np.arange(size**2))


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 2**32 - 1))
def test_a_direction_is_close_to_the_middle_of_its_cell(seed):
    rays = np.random.default_rng(seed).normal(size=(200, 3))
    middles = octahedral_directions(64)[octahedral_cells(rays, 64)]
    angles = np.degrees(np.arccos(np.clip((middles * rays).sum(axis=1) / np.linalg.norm(rays, axis=1), -1, 1)))
    assert angles.max() < 4
