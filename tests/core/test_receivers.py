"""As few bones a vertex as receivers take: how many, sums, and no jumps."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from tightseam.binding.face import _exactly_one
from tightseam.binding.receivers import LEAST, _staying, for_receivers
from tightseam.weights.heat import nearest_shares
from tightseam.weights.rows import MOST_RECEIVED


def shares(rows: int = 6, bones: int = 7) -> st.SearchStrategy[np.ndarray]:
    raw = arrays(float, (rows, bones), elements=st.floats(0, 1)).filter(lambda w: w.sum(axis=1).min() > 0.1)
    return raw.map(lambda w: w / w.sum(axis=1, keepdims=True))


@given(shares())
def test_no_vertex_has_more_than_receivers_take_and_totals_stay_one(weights):
    found = for_receivers(weights)
    assert ((found > 0).sum(axis=1) <= MOST_RECEIVED).all()
    assert np.abs(found.sum(axis=1) - 1).max() < 1e-9
    assert found.min() >= 0


@given(shares(bones=MOST_RECEIVED))
def test_what_is_few_already_stays(weights):
    assert np.abs(for_receivers(weights) - weights).max() < 1e-12


@given(shares(rows=1), st.integers(0, 6))
def test_weights_that_differ_little_go_on_differing_little(weights, bone):
    """But where so many are alike that there is nothing to choose by."""
    nudged = weights.copy()
    nudged[0, bone] += 1e-6
    nudged /= nudged.sum()
    if min((w * _staying(w)).sum() for w in (weights, nudged)) > LEAST:
        assert np.abs(for_receivers(weights) - for_receivers(nudged)).max() < 1e-4


@given(arrays(float, (5, 4), elements=st.floats(0, 1)))
def test_shares_of_bones_of_the_face_are_shares_and_who_is_certain_has_all(likely):
    found = _exactly_one(likely)
    assert np.abs(found.sum(axis=1) - 1).max() < 1e-9
    assert found.min() >= 0
    certain = np.flatnonzero((likely == 1).sum(axis=1) == 1)
    assert np.array_equal(found[certain, likely[certain].argmax(axis=1)], np.ones(len(certain)))


def test_the_nearest_has_all_and_two_that_are_as_near_have_half():
    found = nearest_shares(np.array([[0.0, 9.0], [2.0, 2.0], [np.inf, 1.0]]), 0.5)
    assert np.abs(found - [[1, 0], [0.5, 0.5], [0, 1]]).max() < 1e-7
