"""Distance along a surface: against closed forms, exact geodesics of an independent library, and the same surface cut otherwise."""

from __future__ import annotations

import igl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.geometry.diffuse import diffused
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_distance import distance_onwards, distance_to_line, distance_to_places, places_on
from tightseam.geometry.surface_mesh import SurfaceMesh

from tests.core.shapes import ball, grid

inside = st.floats(0.05, 0.95)


def sheet(cut: int = 0, columns: int = 12, rows: int = 8) -> SurfaceMesh:
    """12 by 8 cm, in quads, or in triangles by one diagonal or the other."""
    points, polygons = grid(columns, rows)
    if cut:
        ways = {1: ((0, 1, 2), (0, 2, 3)), 2: ((0, 1, 3), (1, 2, 3))}[cut]
        polygons = Polygons.from_lists([[q[k] for k in way] for q in polygons.lists() for way in ways])
    return SurfaceMesh(points, polygons)


@settings(max_examples=40)
@given(inside, inside, st.sampled_from([0, 1, 2]))
def test_on_a_plane_it_is_the_straight_line_from_any_place_however_it_is_cut(x, y, cut):
    mesh, place = sheet(cut), np.array([[12 * x, 8 * y, 0.0]])
    assert np.abs(distance_to_places(mesh, places_on(mesh, place)) - np.linalg.norm(mesh.points - place, axis=1)).max() < 0.005


def test_of_several_places_the_nearest_counts_and_beyond_the_limit_none():
    mesh, places = sheet(), np.array([[1.3, 2.0, 0.0], [9.0, 5.5, 0.0]])
    truth = np.linalg.norm(mesh.points[:, None] - places, axis=2).min(axis=1)
    found = distance_to_places(mesh, places_on(mesh, places), 3.0)
    assert np.abs(found - truth)[truth < 3].max() < 0.005
    assert found[truth > 4.5].min() == np.inf


def test_on_a_ball_it_is_the_arc():
    mesh = SurfaceMesh(*ball(3.0, 96, 48))
    place = mesh.points[[1000]]
    arc = 3 * np.arccos(np.clip(mesh.points @ place[0] / 9, -1, 1))
    assert np.abs(distance_to_places(mesh, places_on(mesh, place)) - arc).max() < 0.02 * 3 * np.pi


def test_it_is_that_of_exact_geodesics_on_a_face(raw_maren):
    """Against igl's windows (Mitchell, Mount & Papadimitriou), which know no places between vertices."""
    skin = raw_maren.parts[0]
    mesh = SurfaceMesh(np.asarray(skin.points, float), Polygons.from_lists(skin.polygons))
    every, none = np.arange(len(mesh)), np.zeros(0, np.int64)
    for mark in ("cheek_L", "nose_wing_L", "lip_upper", "brow_middle_L"):
        start = int(mesh.tree.query(raw_maren.landmarks[mark])[1])
        exact = np.asarray(igl.exact_geodesic(mesh.points, mesh.triangles.astype(np.int64), np.array([start]), none, every, none))
        near = exact < 3
        assert near.sum() > 40
        assert np.abs(distance_to_places(mesh, places_on(mesh, mesh.points[[start]])) - exact)[near].max() < 0.08, mark


@pytest.mark.parametrize("cut", [0, 1, 2])
def test_a_straight_line_is_as_far_as_it_is_away_and_tells_its_place(cut):
    mesh = sheet(cut)
    line = np.flatnonzero(mesh.points[:, 1] == 3)
    away, along = distance_to_line(mesh, line)
    assert np.abs(away - np.abs(mesh.points[:, 1] - 3)).max() < 1e-9
    assert np.abs(along - mesh.points[:, 0] / 12).max() < 1e-9


def test_what_is_known_near_a_region_goes_on_from_there():
    mesh = sheet()
    known = np.maximum(mesh.points[:, 0] - 2.5, 0)
    assert np.abs(distance_onwards(mesh, known, 1.5) - known).max() < 1e-9


def test_heat_that_flows_flattens_a_wave_by_what_is_known_and_leaves_what_is_held():
    """One backward Euler step divides a wave cos(k x) by 1 + k² t."""
    points, polygons = grid(80, 2, 0.1)
    mesh, time = SurfaceMesh(points, polygons), 0.5
    k = np.pi / 8
    wave = np.cos(k * points[:, :1])
    found = diffused(*mesh.laplacian, wave, np.full(len(points), time))
    assert np.abs(found - wave / (1 + k * k * time)).max() < 1e-3
    still = np.where(points[:, 0] < 1, 0.0, time)
    assert np.array_equal(diffused(*mesh.laplacian, wave, still)[still == 0], wave[still == 0])
