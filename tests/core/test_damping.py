"""Controls that do less while others act."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.poses import rest_values
from tightseam.document.removal import without
from tightseam.edits.control_edits import RenameControl
from tightseam.edits.damping_edits import DampControl

from tests.head import Head, after


@pytest.fixture(scope="module")
def damped(clean) -> Head:
    """A nod that goes down only to 0.4 of its way while the jaw is half open and wider."""
    return after(clean, DampControl(control="head_nod", by="jaw_open", way="high", full=0.5, left=0.4))


def heard(head: Head, values: dict[str, float], name: str) -> float:
    evaluator = Evaluator(head.character, head.store)
    return float(evaluator.skeleton.channel_values([name], rest_values(head.character) | values, np.zeros(0))[0])


@settings(max_examples=60, deadline=None)
@given(st.floats(-25, 25), st.floats(0, 1))
def test_it_goes_as_far_as_the_other_leaves_it_on_one_way(damped, nod, jaw):
    wanted = nod * (1 - 0.6 * min(jaw / 0.5, 1.0)) if nod > 0 else nod
    assert heard(damped, {"head_nod": nod, "jaw_open": jaw}, "head_nod") == pytest.approx(wanted, abs=1e-9)
    assert heard(damped, {"head_nod": nod, "jaw_open": jaw}, "jaw_open") == pytest.approx(jaw)


def test_alone_both_do_what_they_did_and_together_they_are_where_the_lesser_nod_is(clean, damped):
    before, now = (Evaluator(h.character, h.store) for h in (clean, damped))
    rest = rest_values(clean.character)
    for alone in ({}, {"jaw_open": 1.0}, {"head_nod": 25.0}, {"head_nod": -25.0, "jaw_open": 1.0}):
        assert np.array_equal(before.points(rest | alone), now.points(rest | alone))
    less = before.points(rest | {"head_nod": 10.0, "jaw_open": 1.0})
    assert np.abs(now.points(rest | {"head_nod": 25.0, "jaw_open": 1.0}) - less).max() < 1e-5


def test_two_that_damp_one_control_multiply_and_one_that_is_damped_damps_as_it_is_asked_for(damped):
    both = after(damped, DampControl(control="head_nod", by="smile", left=0.5), DampControl(control="jaw_open", by="smile", left=0.1))
    assert heard(both, {"head_nod": 20.0, "jaw_open": 1.0, "smile": 1.0}, "head_nod") == pytest.approx(20 * 0.4 * 0.5)
    assert heard(both, {"jaw_open": 1.0, "smile": 1.0}, "jaw_open") == pytest.approx(0.1)


def test_it_is_let_go_follows_names_and_goes_with_what_damps(damped):
    free = after(damped, DampControl(control="head_nod", by="jaw_open", way="high", left=None))
    assert free.character.controls == tuple(replace(c, damped=()) for c in damped.character.controls)
    renamed = after(damped, RenameControl(control="jaw_open", label="Open", to="open"))
    assert heard(renamed, {"head_nod": 25.0, "open": 1.0}, "head_nod") == pytest.approx(10.0)
    left = without(damped.character, "control", {"jaw_open"})
    assert all(not c.damped for c in left.controls)


@pytest.mark.parametrize(
    ("params", "why"),
    [
        ({"control": "head_nod", "by": "head_nod", "left": 0.5}, "damps itself"),
        ({"control": "head_nod", "by": "jaw_open", "comes_in": 0.5, "full": 0.5, "left": 0.5}, "no way"),
        ({"control": "head_nod", "by": "nobody", "left": 0.5}, "no control called"),
        ({"control": "head_nod", "by": "smile", "left": None}, "does not damp"),
    ],
)
def test_what_cannot_be_is_refused(damped, params, why):
    with pytest.raises(BadRequest, match=why):
        after(damped, DampControl(**params))
