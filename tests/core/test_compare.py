"""Differences vertex by vertex against closed forms."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.deform.compare import TOLD_STRETCH, stretched

LINE = np.array([[0.0, 0, 0], [1, 0, 0], [3, 0, 0]])
ENDS = np.array([[0, 1], [1, 2]])


def test_an_edge_of_half_the_length_counts_as_one_of_double():
    assert stretched(LINE, LINE * 2, ENDS) == pytest.approx([100, 100, 100])
    assert stretched(LINE * 2, LINE, ENDS) == pytest.approx([100, 100, 100])
    assert stretched(LINE, LINE + [0, 5, 0], ENDS) == pytest.approx([0, 0, 0], abs=1e-9)
    assert stretched(LINE, LINE * [[1], [1], [7 / 3]], ENDS) == pytest.approx([0, 200, 200])


def test_what_collapses_is_told_as_a_number_that_colours_can_go_by():
    assert stretched(LINE, LINE * 0, ENDS) == pytest.approx([TOLD_STRETCH] * 3)
