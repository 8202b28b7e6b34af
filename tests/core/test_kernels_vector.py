"""The vectors of the processor against sums that are written out."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numba import njit
from numba.core.errors import TypingError
from tightseam.deform import kernels, plain
from tightseam.deform.kernels_vector import add_area, sum_rows
from tightseam.deform.skinning import packed

seeds = st.integers(0, 10_000)


@pytest.mark.parametrize("width", [4, 8])
@given(seed=seeds, count=st.integers(0, 40))
def test_points_go_where_the_weighted_sum_of_their_matrices_sends_them(width, seed, count):
    """Also where one bone is named twice, a weight is 0 or below, and totals are not 1."""
    rng = np.random.default_rng(seed)
    matrices = packed(rng.normal(size=(5, 4, 4)))
    points = rng.normal(size=(count, 3)).astype(np.float32)
    bones = rng.integers(0, 6, (count, width)).astype(np.uint16)
    weights = rng.normal(size=(count, width)).astype(np.float32)
    found, wanted = np.full((count, 3), np.nan, np.float32), np.empty((count, 3), np.float32)
    kernels.skin(found, points, bones, weights, matrices)
    plain.skin(wanted, points, bones, weights, matrices)
    assert found == pytest.approx(wanted, abs=2e-5)


@given(seed=seeds)
def test_normals_are_the_sums_of_vector_areas_though_corners_fall_together(seed):
    rng = np.random.default_rng(seed)
    points = rng.normal(size=(9, 3)).astype(np.float32)
    quads, triangles = rng.integers(0, 9, (6, 4)).astype(np.uint32), rng.integers(0, 9, (5, 3)).astype(np.uint32)
    found, wanted = np.full((9, 3), np.nan, np.float32), np.zeros((9, 3))
    kernels.normals(found, points, quads, triangles)
    for face in [*quads, *triangles]:
        x = points[face].astype(float)
        area = np.cross(x[2] - x[0], x[3] - x[1]) if len(face) == 4 else np.cross(x[1] - x[0], x[2] - x[0])
        np.add.at(wanted, face, area)
    length = np.linalg.norm(wanted, axis=1)
    clear = length > 1e-2  # below, rounding points anywhere
    assert found[clear] == pytest.approx(wanted[clear] / length[clear, None], abs=1e-3)
    assert np.isfinite(found).all()


def test_arrays_with_gaps_are_refused_when_a_loop_is_compiled():
    @njit
    def summed(out, weights, bones, table):
        sum_rows(out, 0, weights, 0, bones, 0, table, 4, 8)

    @njit
    def added(out, points, faces):
        add_area(out, points, faces, 0, 3)

    f = np.float32
    with pytest.raises(TypingError, match="contiguous"):
        summed(np.zeros((1, 8), f), np.zeros((1, 8), f)[:, ::2], np.zeros((1, 4), np.uint16), np.zeros((2, 8), f))
    with pytest.raises(TypingError, match="contiguous"):
        added(np.zeros((3, 3), f), np.zeros((3, 6), f)[:, ::2], np.zeros((1, 3), np.uint32))
