"""Flat cuts through a place: against points that lie on the surfaces, and told where there is no such place."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.seams.cut import cut_at

from tests.core.mix_faults import uncarried


def test_the_place_lies_on_its_own_line_and_all_lines_in_the_plane_of_their_parts(clean):
    """In the neutral a line through the chin runs through the place itself, and every point of it is on the surface."""
    import igl

    vertex = int(clean.rest("skin")[:, 2].argmax())
    lines = cut_at(clean.evaluator, "skin", vertex, clean.values())
    skin = [line.points for line in lines if line.part == "skin"]
    assert min(np.linalg.norm(points, axis=1).min() for points in skin) < 1e-3
    place, triangles = clean.rest("skin")[vertex], clean.evaluator.meshes.part_triangles[0]
    # outwards at the tip of the nose is forwards, but for how the nose is turned
    normal = np.array([0.0, 0.0, 1.0])
    for points in skin:
        back = place + 0.1 * (points[:, :1] * normal + points[:, 1:] * [0, 1.0, 0])
        off = np.sqrt(igl.point_mesh_squared_distance(back, clean.rest("skin").astype(float), triangles.astype(np.int64))[0])
        assert np.median(off) < 0.02


def test_a_turned_head_is_cut_as_it_hangs_on_its_bone(clean):
    vertex = int(clean.rest("skin")[:, 2].argmax())
    still, turned = (cut_at(clean.evaluator, "skin", vertex, clean.values(v)) for v in ({}, {"head_turn": 40.0}))
    one, other = (next(line.points for line in lines if line.part == "skin") for lines in (still, turned))
    near = np.linalg.norm(one, axis=1) < 10
    apart = np.linalg.norm(one[near][:, None] - other[None], axis=2).min(axis=1)
    assert apart.max() < 0.01


def test_a_vertex_that_is_not_there_is_said(clean):
    with pytest.raises(BadRequest, match="out of range"):
        cut_at(clean.evaluator, "skin", 10**6, clean.values())


def test_a_part_that_has_collapsed_is_cut_too(clean):
    """What nothing carries lies in one point, which looks nowhere."""
    store = MemoryStore(clean.store)
    evaluator = Evaluator(uncarried(clean.character, store, "tongue"), store)
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        lines = cut_at(evaluator, "tongue", 5, clean.values())
    assert all(np.isfinite(line.points).all() for line in lines)
