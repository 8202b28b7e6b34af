"""Weights: sums, signs, symmetry, and independence of how dense the mesh is."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.binding.skin import SKIN_BONES
from tightseam.document.lookup import binding
from tightseam.document.make import dense_weights
from tightseam.geometry.geodesic import distance_from, surface_graph
from tightseam.geometry.laplacian import laplacian
from tightseam.geometry.symmetry import partners
from tightseam.geometry.triangulate import triangulate
from tightseam.weights.chain import chain_weights
from tightseam.weights.heat import heat_weights

from tests.core.shapes import grid


@pytest.fixture(scope="module")
def skin_weights(clean):
    bound = binding(clean.character, "skin")
    return dense_weights(clean.store, bound.influences, SKIN_BONES, len(clean.rest("skin")))


def test_skin_weights_are_shares(skin_weights):
    assert skin_weights.min() >= 0
    assert np.abs(skin_weights.sum(axis=1) - 1).max() < 1e-6


def test_skin_weights_are_mirror_symmetric(skin_weights, clean):
    partner = partners(clean.rest("skin"), 1e-9)
    assert np.abs(skin_weights - skin_weights[partner]).max() < 1e-5


def test_the_lips_part_at_the_seam(skin_weights, clean):
    jaw = skin_weights[:, SKIN_BONES.index("jaw")]
    upper, lower = clean.set("lip_upper_line"), clean.set("lip_lower_line")
    middle = len(upper) // 2
    assert jaw[upper[middle]] < 1e-6
    assert jaw[lower[middle]] == pytest.approx(1)
    assert jaw[upper[0]] == pytest.approx(0.5)
    assert (np.diff(jaw[upper[: middle + 1]]) <= 1e-6).all()


def test_the_head_is_hard_and_the_neck_soft(skin_weights, clean):
    head = skin_weights[:, SKIN_BONES.index("head")]
    points = clean.rest("skin")
    lids = np.concatenate([clean.set(f"lid_{lid}_{side}") for lid in ("upper", "lower") for side in "LR"])
    brows = next(m.point for m in clean.character.landmarks if m.name == "brow_middle_L")[1]
    assert head[points[:, 1] > brows].min() > 0.99
    assert head[lids].min() > 0.99
    collar = points[:, 1] < points[:, 1].min() + 0.2
    assert skin_weights[collar, SKIN_BONES.index("neck_1")].min() > 0.9


def strip_weights(cells: int) -> tuple[np.ndarray, np.ndarray]:
    """Weights of two bones that hold the ends of a strip of 10 cm, by position along it."""
    points, polygons = grid(cells, 2, 10 / cells)
    matrix, mass = laplacian(points, triangulate(points, polygons))
    ends = np.flatnonzero((points[:, 0] == 0) | (points[:, 0] == 10))
    distance, nearest = distance_from(surface_graph(points, polygons), ends)
    anchored = np.stack([points[nearest, 0] == 0, points[nearest, 0] == 10], axis=1).astype(float)
    weights = heat_weights(matrix, mass, distance, anchored)
    return points[:, 0], weights[:, 0]


def test_heat_weights_do_not_depend_on_how_dense_the_mesh_is():
    x, coarse = strip_weights(20)
    fine_x, fine = strip_weights(80)
    order = np.argsort(fine_x)
    assert np.abs(coarse - np.interp(x, fine_x[order], fine[order])).max() < 0.03
    assert (np.diff(coarse[:21]) <= 1e-9).all()
    assert coarse[10] == pytest.approx(0.5, abs=0.02)


def test_what_is_held_wholly_keeps_its_values():
    points, polygons = grid(6, 1)
    matrix, mass = laplacian(points, triangulate(points, polygons))
    held = (points[:, 0] == 3).astype(float)
    values = np.tile([0.25, 0.75], (len(points), 1))
    anchored = np.stack([points[:, 0] < 3, points[:, 0] >= 3], axis=1).astype(float)
    weights = heat_weights(matrix, mass, np.ones(len(points)), anchored, held, values)
    assert np.abs(weights[held == 1] - [0.25, 0.75]).max() < 1e-12


def test_what_is_held_more_firmly_lies_nearer_to_its_value():
    points, polygons = grid(6, 1)
    matrix, mass = laplacian(points, triangulate(points, polygons))
    values, anchored = np.tile([0.0, 1.0], (len(points), 1)), np.tile([1.0, 0.0], (len(points), 1))
    found = [
        heat_weights(matrix, mass, np.ones(len(points)), anchored, np.full(len(points), h), values)[:, 1] for h in (0, 0.1, 0.5, 0.9, 1)
    ]
    assert np.abs(found[0]).max() < 1e-12
    assert np.abs(found[-1] - 1).max() < 1e-12
    assert all((b > a).all() for a, b in pairwise(found))


@settings(max_examples=60, deadline=None)
@given(st.integers(2, 6), st.lists(st.tuples(st.floats(-9, 9), st.floats(-2, 2), st.floats(-2, 2)), min_size=1, max_size=20))
def test_chain_weights_are_a_partition_of_unity(bones, cloud):
    joints = np.stack([np.linspace(-5, 5, bones + 1), np.zeros(bones + 1), np.zeros(bones + 1)], axis=1)
    weights = chain_weights(np.array(cloud), joints)
    assert weights.min() >= 0
    assert np.abs(weights.sum(axis=1) - 1).max() < 1e-12
    assert ((weights > 0).sum(axis=1) <= 2).all()


def test_the_ends_of_a_chain_belong_to_its_ends():
    joints = np.array([[0, 0, 0], [0, 0, 1], [0, 0, 2], [0, 0, 3]], float)
    weights = chain_weights(np.array([[0, 0, -1], [0.3, 0, 1.5], [0, 0, 9.0]]), joints)
    assert np.abs(weights - np.eye(3)).max() < 1e-12
