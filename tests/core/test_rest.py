"""A pose that becomes the rest pose: what was posed is the neutral, and what is done from there is what it was on the pose."""

from __future__ import annotations

import numpy as np
import pytest
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.poses import pose_values, rest_values
from tightseam.edits.rest_edits import TakeRest

from tests import cast
from tests.head import Head

TURNED = {"head_turn": 25.0, "head_nod": 10.0}
CLOSE = 2e-4  # cm: points of a frame are of single precision
NEAR = 0.05  # cm: gazes are read with the face towards +Z, so lids that follow them close a little otherwise on a turned head


@pytest.fixture(scope="module")
def maren() -> Head:
    return cast.clean("maren")


def taken(head: Head, values: dict[str, float], joints: str = "move") -> Head:
    store = MemoryStore(head.store)
    return Head(TakeRest(values=values, joints=joints).apply(head.character, store), store)


@pytest.mark.parametrize("joints", ["move", "stay"])
@pytest.mark.parametrize("values", [TURNED, {"smile": 0.8}, {"jaw.turn_x": 12.0}, {"blink": 0.6, "gaze_across": 15.0}])
def test_at_rest_it_is_what_it_was_in_the_pose(maren, values, joints):
    made = taken(maren, values, joints)
    posed = maren.evaluator.points(maren.values(values))
    store, rest = made.store, np.concatenate([made.rest(p.name) for p in made.character.parts])
    assert np.abs(rest - posed).max() < CLOSE
    for part, before in zip(made.character.parts, maren.character.parts, strict=True):
        still = np.abs(np.asarray(store.get(part.points)) - np.asarray(store.get(before.points))).max(axis=1) < 1e-7
        assert (np.asarray(store.get(part.points))[still] == np.asarray(store.get(before.points))[still]).all()


def test_a_turned_head_makes_every_face_as_it_was_on_the_turned_one(maren):
    """All that hangs on the head is carried by one matrix: every pose of the strip on the new rest is that pose on the turned head."""
    made = taken(maren, TURNED)
    for pose in maren.character.poses:
        if set(pose.values) & TURNED.keys():
            continue
        there = maren.evaluator.points(pose_values(maren.character, pose) | TURNED)
        here = made.evaluator.points(pose_values(made.character, pose))
        for part in ("eye_L", "teeth_lower", "teeth_upper", "tongue", "lash_upper_R", "brow_L"):
            rows = maren.evaluator.meshes.rows(part)
            assert np.abs(here[rows] - there[rows]).max() < NEAR, (pose.name, part)
        skin = maren.evaluator.meshes.rows("skin")
        high = maren.rest("skin")[:, 1] > 16  # above what the neck carries
        assert np.abs(here[skin][high] - there[skin][high]).max() < NEAR, pose.name


def test_shapes_turn_with_what_carries_them_and_landmarks_go_along(maren):
    made = taken(maren, TURNED)
    matrix = maren.evaluator.matrices(maren.values(TURNED))[[b.name for b in maren.character.bones].index("head")]
    for before, after in zip(maren.character.landmarks, made.character.landmarks, strict=True):
        if before.name in ("nose_tip", "crown", "lid_upper_L", "brow_middle_R"):
            assert after.point == pytest.approx(matrix[:3, :3] @ before.point + matrix[:3, 3], abs=1e-4)
    bones = {b.name: b for b in made.character.bones}
    eye = next(b for b in maren.character.bones if b.name == "eye_L")
    assert bones["eye_L"].base == pytest.approx(matrix[:3, :3] @ eye.base + matrix[:3, 3], abs=1e-5)
    assert np.reshape(bones["eye_L"].axes, (3, 3)) @ np.reshape(bones["eye_L"].axes, (3, 3)).T == pytest.approx(np.eye(3), abs=1e-9)


def test_joints_that_stay_stay(maren):
    made = taken(maren, TURNED, "stay")
    assert made.character.bones == maren.character.bones


def test_taken_there_and_back_it_is_the_same(maren):
    there = taken(maren, {"jaw.turn_x": 10.0})
    back = taken(there, {"jaw.turn_x": -4.0})
    again = taken(back, {"jaw.turn_x": 4.0})
    for part in ("teeth_lower", "tongue"):
        assert np.abs(again.rest(part) - there.rest(part)).max() < CLOSE


def test_the_rest_itself_is_refused(maren):
    with pytest.raises(BadRequest, match="rest pose already"):
        TakeRest(values=rest_values(maren.character)).apply(maren.character, MemoryStore(maren.store))
    with pytest.raises(BadRequest):
        TakeRest(values={"wink": 1.0}).apply(maren.character, MemoryStore(maren.store))
