"""Maren as the generator makes her, and what is found on her from landmarks alone."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.geometry.adjacency import boundary, edges, islands, valence
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.symmetry import partners
from tightseam.head.regions import lids, lips
from tightseam.head.surface import Surface

MIRROR = np.array([-1, 1, 1])


@pytest.fixture(scope="module")
def skin(raw_maren):
    return raw_maren.parts[0]


@pytest.fixture(scope="module")
def surface(skin, raw_maren):
    return Surface(SurfaceMesh(skin.points, Polygons.from_lists(skin.polygons)), raw_maren.landmarks)


def test_the_skin_is_one_clean_sheet_of_quads(skin):
    polygons = Polygons.from_lists(skin.polygons)
    assert 3_000 < len(skin.points) < 4_000  # as many as the design asks for
    assert set(polygons.sizes.tolist()) == {4}
    assert len(set(islands(polygons, len(skin.points)).tolist())) == 1
    assert edges(polygons, len(skin.points)).uses.max() == 2
    assert boundary(polygons, len(skin.points)).sum() == 46 + 2 * 28


def test_the_skin_is_symmetric_to_the_bit(skin):
    partner = partners(skin.points, 1e-9)
    assert (partner >= 0).all()
    assert np.array_equal(skin.points[partner] * MIRROR, skin.points)


def test_no_pole_lies_on_lids_or_lips(skin):
    polygons = Polygons.from_lists(skin.polygons)
    count = valence(polygons, len(skin.points))
    rings = [
        v
        for name, ring in skin.sets.items()
        for v in ring
        if name.startswith(("eye_ring_0", "lip_")) and not name.startswith("eye_ring_00")
    ]
    assert (count[rings] == 4).all()


def test_neighbouring_polygons_agree_on_their_winding(raw_maren):
    for part in raw_maren.parts:
        directed = [(p[k - 1], p[k]) for p in part.polygons for k in range(len(p))]
        assert len(directed) == len(set(directed)), part.name


def test_every_part_is_there_and_sided_ones_are_mirror_images(raw_maren):
    parts = {p.name: p for p in raw_maren.parts}
    assert {p.kind for p in raw_maren.parts} == {"skin", "eye", "teeth upper", "teeth lower", "tongue", "brow", "lash", "hair", "cloth"}
    for name in ("eye", "brow", "lash_upper", "lash_lower"):
        assert np.array_equal(parts[f"{name}_L"].points * MIRROR, parts[f"{name}_R"].points)


@pytest.mark.parametrize("side", ["L", "R"])
def test_lid_margins_found_from_landmarks_are_the_built_ones(surface, skin, side):
    rim = lids(surface, side)
    assert rim.upper.tolist() == skin.sets[f"lid_margin_upper_{side}"]
    assert rim.lower.tolist() == skin.sets[f"lid_margin_lower_{side}"]
    behind = {v for k in range(10, 15) for v in skin.sets[f"eye_ring_{k}_{side}"]}
    assert set(np.flatnonzero(rim.inside).tolist()) == behind


def test_lip_lines_found_from_landmarks_are_the_built_ones(surface, skin):
    rim = lips(surface)
    assert sorted(rim.loop.tolist()) == skin.sets["lip_contact"]
    assert set(np.flatnonzero(rim.inside).tolist()) == set(skin.sets["mouth_bag"])


def test_a_landmark_that_is_missing_is_named(skin):
    bare = Surface(SurfaceMesh(skin.points, Polygons.from_lists(skin.polygons)), {})
    with pytest.raises(ValueError, match="mouth_corner_R"):
        lips(bare)


def test_landmarks_off_the_loop_are_refused(skin, raw_maren):
    moved = raw_maren.landmarks | {"lip_upper": raw_maren.landmarks["nose_tip"]}
    with pytest.raises(ValueError, match="No closed edge loop"):
        lips(Surface(SurfaceMesh(skin.points, Polygons.from_lists(skin.polygons)), moved))
