"""Selections: what growing, shrinking, loops and rings must give."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.document.errors import BadRequest
from tightseam.geometry.polygons import Polygons
from tightseam.weights.selection import grown

from tests.core.shapes import cube, grid

WIDE, HIGH = 6, 5  # quads of the grid


@pytest.fixture(scope="module")
def sheet():
    points, polygons = grid(WIDE, HIGH)
    return points, polygons, len(points)


@settings(max_examples=50, deadline=None)
@given(st.sets(st.integers(0, (WIDE + 1) * (HIGH + 1) - 1), min_size=1))
def test_growing_holds_what_was_there_and_shrinking_takes_none_new(sheet, picked):
    _, polygons, count = sheet
    chosen = np.array(sorted(picked))
    larger, smaller = grown(polygons, chosen, count, "grow"), grown(polygons, chosen, count, "shrink")
    assert set(chosen) <= set(larger)
    assert set(smaller) <= set(chosen)
    others = grown(polygons, chosen, count, "invert")
    assert np.array_equal(grown(polygons, others, count, "invert"), chosen)
    # what grows is what the rest loses when it shrinks
    assert np.array_equal(np.setdiff1d(np.arange(count), larger), grown(polygons, others, count, "shrink"))


def test_a_loop_goes_on_straight_and_a_ring_goes_on_across(sheet):
    points, polygons, count = sheet
    x, y = points[:, 0], points[:, 1]
    middle = np.flatnonzero((y == np.unique(y)[2]) & np.isin(x, np.unique(x)[2:4]))
    assert len(middle) == 2
    assert np.array_equal(grown(polygons, middle, count, "loop"), np.flatnonzero(y == y[middle[0]]))
    assert np.array_equal(grown(polygons, middle, count, "ring"), np.flatnonzero(np.isin(x, x[middle])))


def test_an_island_is_all_that_hangs_together():
    one, faces = cube(1.0)
    count = len(one)
    both = Polygons.from_lists([*faces.lists(), *([v + count for v in f] for f in faces.lists())])
    assert np.array_equal(grown(both, np.array([count + 2]), 2 * count, "island"), np.arange(count, 2 * count))
    assert len(grown(both, np.array([0]), 2 * count, "whole")) == 2 * count


def test_without_an_edge_there_is_no_loop(sheet):
    _, polygons, count = sheet
    with pytest.raises(BadRequest, match="two vertices beside each other"):
        grown(polygons, np.array([0, count - 1]), count, "loop")
