"""Test poses: made from what the rig can do, renamed, moved, hidden."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tightseam.controls.range_of_motion import range_of_motion
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.poses import shown_poses
from tightseam.edits.pose_edits import AddRangeOfMotion, HidePose, MovePose, RenamePose

from tests.head import Head


def poses_of(character) -> dict[str, dict[str, float]]:
    return {p.label: dict(p.values) for p in range_of_motion(character)}


def test_it_holds_jaw_head_eyes_and_every_control_at_its_ends(clean):
    found = poses_of(clean.character)
    assert found["Jaw 25 %"] == {"jaw_open": 0.25}
    assert found["Jaw to the left"] == {"jaw.move_x": 0.8}
    assert found["Jaw thrust"] == {"jaw.move_z": 1.0}
    assert found["Head turns left"] == {"head_turn": 50}
    assert found["Head tilts left"] == {"head_tilt": -25.0}
    assert found["Eyes up and left"] == {"gaze_height": 25, "gaze_across": 35}
    assert found["Blink L"] == {"blink_L": 1}
    assert "Jaw 100 %" not in found  # the strip has it already, as Jaw open
    used = {name for p in clean.character.poses for name in p.values} | {name for values in found.values() for name in values}
    assert {c.name for c in clean.character.controls} <= used


def test_every_pose_is_one_the_rig_can_take_and_new_to_the_strip(clean):
    known = [dict(p.values) for p in clean.character.poses]
    for values in poses_of(clean.character).values():
        checked_values(clean.character, values)
        assert values not in known
        known.append(values)


def test_only_poses_that_leave_lips_and_lids_alone_claim_to_close(clean):
    closes = {p.label: p.closes for p in range_of_motion(clean.character)}
    assert closes["Head turns left"] == ("lips",)
    assert closes["Eyes up and left"] == ("lips",)
    assert closes["Jaw 25 %"] == ()
    assert closes["Blink L"] == ()


def test_without_controls_it_is_made_of_the_bones_own(clean):
    bare = replace(clean.character, controls=(), poses=())
    found = poses_of(bare)
    assert found["Jaw 50 %"] == {"jaw.turn_x": 17.5}
    assert found["Eyes left"] == {"eye_L.turn_y": 45, "eye_R.turn_y": 45}
    made = AddRangeOfMotion().apply(bare, MemoryStore(clean.store))
    assert made.poses[0].values == {}


def test_it_is_added_once_and_every_seam_of_a_clean_head_is_measured_in_it(clean):
    store = MemoryStore(clean.store)
    made = AddRangeOfMotion().apply(clean.character, store)
    assert len(made.poses) > 25
    assert len({p.name for p in made.poses}) == len(made.poses)
    head = Head(made, store)
    over = {(p, r.seam) for p, row in head.readings().items() for r in row if not r.within}
    assert over == {("jaw_thrust", "lips_teeth_lower")}  # a whole centimetre forward, with lips that still stick to each other
    assert {len(row) for row in head.readings().values()} == {len(made.seams)}
    with pytest.raises(BadRequest, match="already holds everything"):
        AddRangeOfMotion().apply(made, store)


def test_poses_are_renamed_moved_hidden_and_come_back(clean):
    store, character = MemoryStore(clean.store), clean.character
    renamed = RenamePose(pose="smile", label="  Big   smile ").apply(character, store)
    assert next(p for p in renamed.poses if p.name == "smile").label == "Big smile"
    with pytest.raises(BadRequest, match="already a pose called “Blink”"):
        RenamePose(pose="smile", label="Blink").apply(character, store)
    moved = MovePose(pose="smile", to=1).apply(character, store)
    assert [p.name for p in moved.poses][:3] == ["neutral", "smile", "jaw_open"]
    assert MovePose(pose="smile", to=7).apply(moved, store) == character
    hidden = HidePose(pose="smile").apply(moved, store)
    assert "smile" not in [p.name for p in shown_poses(hidden)]
    assert [p.name for p in MovePose(pose="blink", to=1).apply(hidden, store).poses][:4] == ["neutral", "smile", "blink", "jaw_open"]
    assert HidePose(pose="smile", hidden=False).apply(hidden, store) == moved
    with pytest.raises(BadRequest, match="neutral stays"):
        HidePose(pose="neutral").apply(character, store)
