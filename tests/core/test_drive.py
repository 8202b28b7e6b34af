"""What controls ask of their targets."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tightseam.deform.curves import compile_curve
from tightseam.deform.drive import drive_of
from tightseam.deform.rig import compile_rig
from tightseam.document.model import Control, CurveKey, Link
from tightseam.document.poses import rest_values

KEYS = (CurveKey(0.2, 0.0), CurveKey(0.5, 0.9, 1.0), CurveKey(0.8, 1.0))


def control(name: str, *links: Link) -> Control:
    return Control(name, name, -1, 2, 0, links)


@given(st.floats(-1, 2), st.floats(-1, 2))
def test_a_table_gives_what_its_curve_does_and_gains_add(a, b):
    drive = drive_of("relief", [control("a", Link("relief", "r", 2.0, curve=KEYS)), control("b", Link("relief", "r", 0.5))], ["q", "r"])
    asked = drive.asked(np.array([a, b]))
    assert asked[0] == 0
    assert asked[1] == pytest.approx(2 * float(compile_curve(KEYS)(a)) + 0.5 * b, abs=1e-4)
    assert drive.effects(np.array([a, b])).sum(axis=1) == pytest.approx(asked)


def test_beyond_its_keys_a_response_stays_level():
    drive = drive_of("seal", [control("a", Link("seal", "s", 1.0, curve=KEYS))], ["s"])
    assert drive.asked(np.array([-1.0]))[0] == 0
    assert drive.asked(np.array([2.0]))[0] == pytest.approx(1.0)


def test_one_key_is_a_level():
    drive = drive_of("seal", [control("a", Link("seal", "s", 1.0, curve=(CurveKey(0.5, 0.7),)))], ["s"])
    assert [drive.asked(np.array([v]))[0] for v in (-1.0, 0.5, 2.0)] == pytest.approx([0.7, 0.7, 0.7])


def test_what_is_dialled_once_says_the_same_as_the_values(clean):
    """Controls in chains, damped, and bones asked for by themselves beside them."""
    character = clean.character
    skeleton = compile_rig(character, clean.store).skeleton
    values = rest_values(character) | {c.name: (c.rest + c.high) / 2 for c in character.controls}
    own = dict.fromkeys([*skeleton.turns, *skeleton.moves, *skeleton.own_strengths][::3], 1.0)
    assert own
    for asked in (values, values | own):
        once = skeleton.dialled(asked)
        for name in ("strengths", "expressions", "relief_strengths", "openness", "angles", "shifts", "matrices"):
            assert np.array_equal(getattr(skeleton, name)(once), getattr(skeleton, name)(asked)), name
        assert np.array_equal(skeleton.mouth(once), skeleton.mouth(asked))
    assert not np.array_equal(skeleton.matrices(values), skeleton.matrices(values | own))
