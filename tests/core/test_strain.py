"""Strain of a posed mesh: against closed forms, against numpy's decompositions, and what must not change it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.surfaces.strain import SLIVER, StrainGauge

from tests.core.shapes import grid

EDGE = 0.5


def sheet(columns: int = 11, rows: int = 9) -> SurfaceMesh:
    """A flat sheet of square quads, in the plane z = 0."""
    return SurfaceMesh(*grid(columns, rows, EDGE))


@pytest.fixture(scope="module")
def flat() -> SurfaceMesh:
    return sheet()


@pytest.fixture(scope="module")
def gauge(flat) -> StrainGauge:
    return StrainGauge(flat)


@given(st.integers(0, 10_000))
@settings(max_examples=30)
def test_a_mesh_that_moves_as_one_is_not_strained(seed):
    mesh = sheet(5, 4)
    turn = Rotation.random(rng=seed).as_matrix()
    found = StrainGauge(mesh).read(mesh.points @ turn.T + np.array([3.0, -40.0, 7.0]))
    assert np.abs(found.stretch - 1).max() < 1e-9
    assert np.abs(found.squeeze - 1).max() < 1e-9
    assert not found.turned.any()
    assert found.crumple.max() < 1e-9


def test_a_sheet_drawn_one_way_and_pressed_the_other_says_by_how_much(flat, gauge):
    found = gauge.read(flat.points * [1.3, 0.4, 1.0])
    assert np.allclose(found.stretch, 1.3)
    assert np.allclose(found.squeeze, 2.5)


def test_a_sheet_that_is_sheared_is_stretched_as_its_singular_values_say(flat, gauge):
    shear = np.array([[1, 0.8, 0], [0, 1, 0], [0, 0, 1.0]])
    large, small, _ = np.linalg.svd(shear[:2, :2])[1].tolist() + [0]
    found = gauge.read(flat.points @ shear.T)
    assert np.allclose(found.stretch, large)
    assert np.allclose(found.squeeze, 1 / small)


def test_a_sheet_bent_over_a_cylinder_is_hardly_stretched(flat, gauge):
    radius = 4.0
    angle = flat.points[:, 0] / radius
    found = gauge.read(np.stack([radius * np.sin(angle), flat.points[:, 1], radius * np.cos(angle)], axis=1))
    chord = 2 * radius * np.sin(EDGE / radius / 2) / EDGE  # of an edge, which lies on the cylinder with its ends
    assert found.stretch.max() < 1 + 1e-9
    assert found.squeeze.max() == pytest.approx(1 / chord, rel=0.001)
    assert not found.turned.any()


def test_a_chequered_sheet_stands_out_of_its_rings_by_twice_its_height(flat, gauge):
    height = 0.05
    rows, columns = np.divmod(np.arange(len(flat)), 12)
    posed = flat.points.copy()
    posed[:, 2] = height * np.where((rows + columns) % 2, 1, -1)
    inner = (rows > 0) & (rows < 9) & (columns > 0) & (columns < 11)
    assert gauge.read(posed).crumple[inner] == pytest.approx(2 * height / EDGE, rel=0.02)


def test_what_is_turned_over_has_the_area_that_looks_down(flat, gauge):
    """A vertex drawn across its ring, in the plane: the triangles that turn over are those of negative area."""
    posed = flat.points.copy()
    posed[12 * 4 + 5, 0] += 1.6 * EDGE
    corners = posed[flat.triangles]
    signed = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])[:, 2] / 2
    found = gauge.read(posed)
    assert found.turned.sum() == (signed < 0).sum() > 0
    assert gauge.areas[found.turned].sum() == pytest.approx(gauge.areas[signed < 0].sum())


@given(st.integers(0, 10_000), st.floats(0.01, 0.6))
@settings(max_examples=40)
def test_any_deformation_reads_as_numpy_decomposes_it(seed, amount):
    mesh = sheet(6, 5)
    rng = np.random.default_rng(seed)
    rest = mesh.points + 0.3 * EDGE * rng.normal(size=(len(mesh), 3))
    mesh = SurfaceMesh(rest, mesh.polygons)
    posed = rest @ Rotation.random(rng=seed).as_matrix().T + amount * EDGE * rng.normal(size=rest.shape)
    found = StrainGauge(mesh).read(posed)
    stretch, squeeze, turned, crumple, doubtful = by_numpy(mesh, posed)
    thin = 2 * StrainGauge(mesh).areas < SLIVER * sides(mesh, rest).max(axis=1) ** 2
    assert np.allclose(found.stretch[~thin], stretch[~thin])
    assert np.allclose(found.squeeze[~thin], squeeze[~thin], rtol=1e-4)
    ratios = sides(mesh, posed)[thin] / sides(mesh, rest)[thin]
    assert np.allclose(found.stretch[thin], ratios.max(axis=1))
    assert np.allclose(found.squeeze[thin], 1 / ratios.min(axis=1))
    sure = ~doubtful[mesh.triangles].any(axis=1)
    assert (found.turned[sure] == turned[sure]).all()
    assert np.allclose(found.crumple[~doubtful], crumple[~doubtful], atol=1e-6)


def by_numpy(mesh: SurfaceMesh, posed: np.ndarray) -> tuple[np.ndarray, ...]:
    """Stretch, squeeze and turned (T,), crumple (N,), and the vertices (N,) whose ring has no one turn that is nearest."""
    rest, triangles, ring = mesh.points, mesh.triangles, mesh.neighbours.tocsr()
    values = []
    for t in triangles:
        u, v = rest[t[1]] - rest[t[0]], rest[t[2]] - rest[t[0]]
        x = u / np.linalg.norm(u)
        y = np.cross(np.cross(u, v), u)
        y /= np.linalg.norm(y)
        flat = np.array([[u @ x, v @ x], [u @ y, v @ y]])
        now = np.stack([posed[t[1]] - posed[t[0]], posed[t[2]] - posed[t[0]]], axis=1)
        values.append(np.linalg.svd(now @ np.linalg.inv(flat))[1])
    turns, crumple, doubtful = np.zeros((len(rest), 3, 3)), np.zeros(len(rest)), np.zeros(len(rest), bool)
    for v in range(len(rest)):
        near = ring.indices[ring.indptr[v] : ring.indptr[v + 1]]
        was, now = rest[near] - rest[v], posed[near] - posed[v]
        u, s, vt = np.linalg.svd(now.T @ was)
        way = np.sign(np.linalg.det(u @ vt))
        turns[v] = u @ np.diag([1, 1, way]) @ vt
        doubtful[v] = s[1] + way * s[2] < 1e-3 * s[0]
        crumple[v] = np.linalg.norm(-now.mean(axis=0) + turns[v] @ was.mean(axis=0)) / np.linalg.norm(was, axis=1).mean()
    edges = [np.cross(p[triangles[:, 1]] - p[triangles[:, 0]], p[triangles[:, 2]] - p[triangles[:, 0]]) for p in (rest, posed)]
    wanted = np.einsum("tij,tj->ti", turns[triangles].mean(axis=1), edges[0])
    longest = sides(mesh, rest).max(axis=1)
    turned = ((wanted * edges[1]).sum(axis=1) < 0) & (np.linalg.norm(wanted, axis=1) > SLIVER * longest**2)
    values = np.array(values)
    return values[:, 0], 1 / np.maximum(values[:, 1], 1e-6), turned, crumple, doubtful


def sides(mesh: SurfaceMesh, points: np.ndarray) -> np.ndarray:
    """Lengths (T, 3) of the sides of all triangles."""
    corners = points[mesh.triangles]
    return np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2)


def test_a_sliver_is_not_drawn_out_by_what_its_neighbours_hardly_feel():
    """A corner of a quad that lies all but on the line between two others: moved off it by a tenth of a side, the height of its triangle
    grows a hundredfold, and nobody sees it."""
    rest = np.array([[0, 0, 0], [1, 0.0005, 0], [2, 0, 0], [1, 1, 0], [1, -1, 0.0]])
    mesh = SurfaceMesh(rest, Polygons.from_lists([[0, 1, 3], [1, 2, 3], [0, 2, 1], [0, 4, 2]]))
    found = StrainGauge(mesh).read(rest + [[0, 0, 0], [0, 0.05, 0], [0, 0, 0], [0, 0, 0], [0, 0, 0]])
    assert found.stretch.max() < 1.1
    assert found.squeeze.max() < 1.1


def test_some_of_a_mesh_reads_as_all_of_it(flat, gauge):
    posed = flat.points + 0.1 * np.random.default_rng(3).normal(size=flat.points.shape)
    rows, vertices = np.array([5, 17, 40]), np.array([3, 60])
    whole, some = gauge.read(posed), gauge.read(posed, rows, vertices)
    assert (some.stretch == whole.stretch[rows]).all()
    assert (some.turned == whole.turned[rows]).all()
    assert (some.crumple == whole.crumple[vertices]).all()
