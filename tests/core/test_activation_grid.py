"""Tables over drivers, and few shapes that stand in for many: against closed forms and properties."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tightseam.bake.activation_grid import ActivationGrid, Axis, few_targets, grid_places, spread
from tightseam.bake.fit import spaced

AXES = (Axis("a", np.array([-1.0, 0.0, 0.5, 2.0])), Axis("b", np.array([0.0, 1.0])), Axis("c", np.array([-3.0, 0.0, 3.0])))
inside = st.tuples(st.floats(-1, 2), st.floats(0, 1), st.floats(-3, 3))


@given(inside)
def test_what_is_straight_along_each_axis_comes_out_as_it_is(values):
    def straight(p):
        a, b, c = np.asarray(p).T
        return np.stack([1 + a - 2 * b + a * b * c, c], axis=-1)

    grid = ActivationGrid("straight", AXES, ("x", "y"), straight(grid_places(AXES)))
    assert grid.at(values) == pytest.approx(straight(values), abs=1e-9)


@given(st.tuples(*(st.floats(-50, 50) for _ in AXES)))
def test_places_share_one_and_beyond_the_ends_it_counts_as_there(values):
    row = spread(AXES, np.array([values]))[0]
    assert row.min() >= 0
    assert row.sum() == pytest.approx(1)
    clipped = [np.clip(v, a.knots[0], a.knots[-1]) for v, a in zip(values, AXES, strict=True)]
    assert row == pytest.approx(spread(AXES, np.array([clipped]))[0])


def test_at_a_place_of_the_grid_only_that_counts():
    assert spread(AXES, grid_places(AXES)) == pytest.approx(np.eye(24))


@pytest.mark.parametrize("shape", [(40, 9), (9, 40)])
def test_sums_of_three_shapes_are_found_by_three(shape):
    rng = np.random.default_rng(3)
    count, vertices = shape
    amounts, three = rng.normal(size=(count, 3)), rng.normal(size=(3, vertices, 3))
    amounts[4] = 0
    offsets = np.tensordot(amounts, three, 1)
    weights, targets, off = few_targets(offsets, 12)
    assert np.linalg.norm(np.tensordot(weights, targets, 1) - offsets, axis=2).max() < 1e-4
    assert np.abs(weights).max() <= 1
    assert not weights[4].any() or np.abs(np.tensordot(weights[4], targets, 1)).max() < 1e-5
    assert off[0] == pytest.approx(np.linalg.norm(offsets, axis=2).max(), rel=1e-5)
    assert off[-1] < 0.01


def test_no_more_shapes_than_are_asked_for_and_what_is_told_is_how_far_they_are_off():
    offsets = np.random.default_rng(1).normal(size=(30, 12, 3))
    weights, targets, off = few_targets(offsets, 8)
    assert len(targets) == 8
    assert np.linalg.norm(np.tensordot(weights, targets, 1) - offsets, axis=2).max() == pytest.approx(off[8], rel=1e-4)
    assert few_targets(offsets, 0)[1].shape == (0, 12, 3)


def test_knots_hold_nought_and_stand_no_farther_apart_than_a_step():
    assert spaced(-30, 25, 10).tolist() == [-30, -20, -10, 0, *(25 * k / 3 for k in (1, 2, 3))]
    assert spaced(5, 25, 30).tolist() == [0, 25]
