"""The unit of a head that is rigged already: everything that has a length follows, and every pose is the same pose, larger."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.document.lookup import bone, pose
from tightseam.document.model import LidDriver
from tightseam.edits.lid_edits import DriveLids
from tightseam.edits.part_edits import SetUnits
from tightseam.edits.registry import make_step

from tests.head import after

INCH = 2.54
SLIDES = ((0.0, 0.0), (0.0, 0.0), (-0.5, 1.0))
POSES = [
    {"jaw_open": 1.0, "smile": 0.5, "head_turn": 30},
    {"jaw_open": 0.7, "lip_seal_L": 1, "lip_seal_R": 0.6, "jaw_side": 1},
    {"jaw_open": 0.15},  # lips that stick together still
    {"blink": 0.6, "gaze_height": -20, "gaze_across": 15},
    {"jaw.move_z": 0.8},
]


@pytest.fixture(scope="module", params=[LidDriver(), LidDriver("bones")], ids=["arc", "bones"])
def heads(request, clean):
    """Maren with a relief, a bone that moves, an envelope and a pose of her own; the same after her file was said to be in inches."""
    steps = [
        ("relief.preset", {"preset": "cheek_lower"}),
        ("bone.set_envelope", {"bone": "jaw", "inner": 1.0, "outer": 2.0}),
        ("bone.set_limits", {"bone": "jaw", "turn": ((-35, 35), (0, 0), (0, 0)), "move": SLIDES, "mirror": False}),
        ("pose.keep", {"label": "Slid", "values": {"jaw.move_z": 0.8}}),
        ("lips.set", {"stick": 0.3}),
    ]
    head = after(clean, *(make_step(name, params).params for name, params in steps), DriveLids(side="L", driver=request.param, mirror=True))
    return head, after(head, SetUnits(unit="inch"))


@pytest.mark.parametrize("values", POSES, ids=lambda v: ", ".join(v))
def test_every_pose_is_the_same_pose_larger(heads, values):
    small, large = heads
    longer = {name: value * INCH if ".move_" in name else value for name, value in values.items()}
    for part in ("skin", "lash_upper_L", "teeth_lower", "hair"):
        wanted = small.posed(part, values).astype(float) * INCH
        assert np.abs(large.posed(part, longer) - wanted).max() < 2e-3, part


def test_all_that_is_a_length_follows(heads):
    small, large = (h.character for h in heads)
    assert bone(large, "jaw").envelope == pytest.approx((1.0 * INCH, 2.0 * INCH))
    assert np.allclose(bone(large, "jaw").move, np.array(SLIDES) * INCH)
    assert pose(large, "slid").values["jaw.move_z"] == pytest.approx(0.8 * INCH)
    assert large.lips[0].stick == pytest.approx(small.lips[0].stick * INCH)
    assert large.lips[0].ahead == small.lips[0].ahead  # a share, no length
    assert bone(large, "jaw").turn == bone(small, "jaw").turn


def test_there_and_back_it_is_the_same_head(heads):
    small, large = heads
    again = after(large, SetUnits(unit="cm"))
    for part in small.character.parts:
        assert np.abs(again.rest(part.name) - small.rest(part.name)).max() < 1e-4
    assert np.allclose(bone(again.character, "jaw").move, SLIDES)
    assert pose(again.character, "slid").values == pytest.approx({"jaw.move_z": 0.8})
