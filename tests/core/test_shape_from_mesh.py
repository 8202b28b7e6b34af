"""Targets as they come: each trouble recognised for what it is."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import shape as find_shape
from tightseam.geometry.polygons import Polygons
from tightseam.shapes.from_mesh import target_of
from tightseam.shapes.offsets import offsets_of


@pytest.fixture(scope="module")
def smile(clean):
    return offsets_of(clean.character, clean.store, find_shape(clean.character, "smile"))["skin"]


def taken(clean, points, faces=None):
    polygons = clean.polygons("skin")
    return target_of(clean.rest("skin"), polygons, points, polygons if faces is None else faces, "smile.obj")


def test_a_plain_target_is_its_offsets(clean, smile):
    found = taken(clean, clean.rest("skin") + smile)
    assert np.abs(found.offsets - smile).max() < 1e-3
    assert not [n for n in found.notes if "cleaned" not in n]


def test_a_constant_offset_is_taken_out(clean, smile):
    found = taken(clean, clean.rest("skin") + smile + [0, 3.0, 0.5])
    assert np.abs(found.offsets - smile).max() < 2e-3
    assert "A constant offset of 30.41 mm was taken out." in found.notes


def test_a_hidden_transform_is_taken_out(clean, smile):
    turn = Rotation.from_euler("y", 12, degrees=True).as_matrix()
    found = taken(clean, 1.5 * (clean.rest("skin") + smile) @ turn.T + [1, 2, 3])
    assert np.abs(found.offsets - smile).max() < 2e-3
    assert "A hidden transform was taken out: 1.5 times as large, turned by 12.00°." in found.notes


def test_one_moved_vertex_is_named_and_left_out(clean, smile):
    points = clean.rest("skin") + smile
    crown = int(points[:, 1].argmax())
    points[crown] += [0, 2.0, 0]
    found = taken(clean, points)
    assert found.strays.tolist() == [crown]
    assert np.abs(found.offsets[crown]).max() == 0
    assert any("moved alone by up to 20.0 mm" in n for n in found.notes)


@pytest.mark.parametrize("seed", range(3))
def test_a_scrambled_order_is_put_back(clean, smile, seed):
    points, polygons = clean.rest("skin") + np.where(np.linalg.norm(smile, axis=1) > 0.15, smile.T, 0).T, clean.polygons("skin")
    order = np.random.default_rng(seed).permutation(len(points))
    number = np.argsort(order)
    found = taken(clean, points[order], Polygons(polygons.sizes, number[polygons.corners].astype(np.int32)))
    assert "Its vertices came in another order; they were put back." in found.notes
    assert np.abs(clean.rest("skin") + found.offsets - points).max() < 2e-3


def test_what_cannot_be_told_apart_or_counted_is_refused(clean, smile):
    points, polygons = clean.rest("skin") + smile + 1.0, clean.polygons("skin")
    order = np.random.default_rng(1).permutation(len(points))
    with pytest.raises(BadRequest, match="cannot be told apart"):
        taken(clean, points[order], polygons)
    with pytest.raises(BadRequest, match="keeps every vertex"):
        taken(clean, points[:-1])
    points[5, 1] = np.nan
    with pytest.raises(BadRequest, match="not at a finite place"):
        taken(clean, points)


def test_a_head_that_moves_all_over_is_a_shape(clean):
    points = clean.rest("skin") * [1.1, 0.95, 1.0]
    found = taken(clean, points)
    assert np.abs(found.offsets - (points - clean.rest("skin"))).max() < 2e-3
