"""Fair surfaces, hollows and volumes against closed forms and libigl."""

from __future__ import annotations

import igl
import numpy as np
import pytest
import trimesh
from tightseam.geometry.membrane import Membrane
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.volume import PatchVolume
from tightseam.surfaces.hollow import Hollow

from tests.core.shapes import ball


def mesh_of(points: np.ndarray, triangles: np.ndarray) -> SurfaceMesh:
    return SurfaceMesh(points, Polygons.from_lists(triangles.tolist()))


@pytest.fixture(scope="module")
def sphere():
    made = trimesh.creation.icosphere(5, radius=5.0)
    return np.array(made.vertices), np.array(made.faces)


def test_what_is_linear_round_a_flat_patch_is_linear_in_it():
    x, y = np.meshgrid(np.linspace(0, 1, 13), np.linspace(0, 1, 13))
    points = np.column_stack([x.ravel(), y.ravel(), 0 * x.ravel()])
    k = np.arange(12 * 13).reshape(12, 13)[:, :-1].ravel()
    triangles = np.concatenate([np.column_stack([k, k + 1, k + 14]), np.column_stack([k, k + 14, k + 13])])
    inside = (np.abs(points[:, :2] - 0.5) < 0.25).all(axis=1)
    values = points @ np.array([[1.0, 2.0], [-3.0, 0.5], [0, 0]]) + 4
    membrane = Membrane(mesh_of(points, triangles), inside)
    assert np.abs(membrane.filled(values) - values[inside]).max() < 1e-9


def test_the_fair_surface_is_that_of_libigl(sphere):
    points, triangles = sphere
    inside = points[:, 2] > 3.5
    moved = np.column_stack([0.2 * np.sin(points[:, 0]), 0.1 * points[:, 1], 0.3 * np.cos(points[:, 1])])
    rim = np.flatnonzero(~inside)
    other = igl.harmonic(points, triangles.astype(np.int64), rim, moved[rim], 2)
    own = Membrane(mesh_of(points, triangles), inside).filled(moved)
    assert np.abs(own - other[inside]).max() < 0.01 * np.abs(moved).max()


@pytest.mark.parametrize("depth", [0.2, 0.6])
def test_a_dent_in_a_sphere_is_as_deep_as_it_was_pressed(sphere, depth):
    points, triangles = sphere
    patch = points[:, 2] > 3.0
    near = np.clip(1 - np.linalg.norm(points - [0, 0, 5], axis=1) / 2.5, 0, 1) ** 2
    dented = points * (1 - depth * near / 5)[:, None]
    found = Hollow(mesh_of(points, triangles), patch).depths(dented)
    assert found.max() == pytest.approx(depth, rel=0.01)
    assert Hollow(mesh_of(points, triangles), patch).depths(points * 1.0).max() == pytest.approx(0, abs=1e-9)
    bulged = Hollow(mesh_of(points, triangles), patch).depths(points * (1 + depth * near / 5)[:, None])
    assert bulged.min() == pytest.approx(-depth, rel=0.01)


def test_volumes_of_closed_and_cut_bodies(sphere):
    points, triangles = sphere
    assert PatchVolume(triangles).of(points) == pytest.approx(trimesh.Trimesh(points, triangles).volume, rel=1e-9)
    round_points, polygons = ball(5.0, 96, 48)
    round_triangles = triangulate(round_points, polygons)
    half = round_triangles[(round_points[round_triangles, 2] > -1e-9).all(axis=1)]
    assert PatchVolume(half).of(round_points) == pytest.approx(2 / 3 * np.pi * 125, rel=0.01)
    box = trimesh.creation.box((2, 3, 4))
    corners, faces = np.array(box.vertices), np.array(box.faces)
    assert PatchVolume(faces).of(corners) == pytest.approx(24)
    open_box = faces[~(corners[faces, 2] > 1.9).all(axis=1)]
    assert PatchVolume(open_box).of(corners + 7) == pytest.approx(24)  # the fan is its missing side, wherever it stands
    tube = faces[~(np.abs(corners[faces, 2]) > 1.9).all(axis=1) | (np.ptp(corners[faces, 2], axis=1) > 1)]
    assert PatchVolume(tube).of(corners) == pytest.approx(24)


def test_nothing_has_no_volume():
    assert PatchVolume(np.zeros((0, 3), np.int64)).of(np.zeros((3, 3))) == 0
