"""The pull list through HTTP, with every kind of cause there is."""

from __future__ import annotations

from typing import get_args

import pytest
from tightseam.edits.registry import make_step
from tightseam.findings.cause import CauseKind

from tests.head import after
from tests.server.conftest import seat
from tests.server.http import post

CHEEK = {"jaw_open": 0.8, "smile": 0.6, "head_turn": 30, "lip_seal_L": 0.5, "lip_seal_R": 0.5}


@pytest.fixture
def full(shelf, clean) -> int:
    """Maren with reliefs, dual quaternions, a brow that rides, totals that are not 1, and all of her skin capped."""
    skin = range(len(clean.rest("skin")))
    steps = [
        ("relief.preset", {"preset": "cheek_lower"}),
        ("relief.set", {"name": "cheek_lower_L", "cm": -0.5}),
        ("binding.set_dual", {"part": "skin", "amount": 1.0}),
        ("binding.ride", {"part": "brow_L", "on": "skin"}),
        ("cap.add", {"part": "skin", "vertices": list(skin)}),
        ("weights.add", {"part": "skin", "vertices": list(skin), "bone": "neck_1", "amount": 0.1, "keep_total": False}),
    ]
    head = after(clean, *(make_step(name, params).params for name, params in steps))
    return seat(head.character, head.store)


def test_every_kind_of_cause_is_told(client, full, clean):
    told = set()
    lips = clean.set("lip_lower_line").tolist()
    lid = clean.set("lid_upper_margin_L").tolist()
    cheek = [v for v, p in enumerate(clean.rest("skin").tolist()) if 2 < p[0] < 5 and p[1] < 15][:400]
    for part, vertices, values in (
        ("skin", cheek, CHEEK),
        ("skin", lips, CHEEK),
        ("skin", cheek, CHEEK | {"smile.strength": 0.5}),
        ("skin", lid, {"blink_L": 0.6, "gaze_height": -10}),
        ("brow_L", [3], {"brows_up": 1}),
    ):
        status, answer = post(client, f"/api/characters/{full}/pull", {"revision": 1, "part": part, "vertices": vertices, "values": values})
        assert status == 200, answer
        told |= {row["kind"] for row in answer["pull"]}
        assert all(len(row["arrows"]) % 6 == 0 for row in answer["pull"])
    assert told == set(get_args(CauseKind))
