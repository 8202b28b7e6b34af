"""Edits of the pose strip."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import Field

from tightseam.controls.range_of_motion import range_of_motion
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import pose as find_pose
from tightseam.document.model import Character, Pose
from tightseam.document.poses import pose_name, rest_values
from tightseam.edits.base import Edit

MOST_POSES = 200


class KeepPose(Edit):
    """Keep values of controls and of bones' own controls as a test pose at the end of the strip."""

    label: Annotated[str, Field(min_length=1, max_length=60)]
    values: dict[str, float] = Field(max_length=2000)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        label = _label(character, self.label)
        if len(character.poses) >= MOST_POSES:
            raise BadRequest(f"The strip holds {MOST_POSES} poses; remove one first.")
        rest = rest_values(character)
        away = {n: v for n, v in checked_values(character, self.values).items() if v != rest.get(n, 0.0)}
        if not away:
            raise BadRequest("Everything is at rest: turn a bone or move a control first.")
        return replace(character, poses=(*character.poses, Pose(pose_name(label, {p.name for p in character.poses}), label, away)))

    def describe(self, character: Character) -> str:
        return f"Kept the pose {self.label}"


class RemovePose(Edit):
    pose: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        gone = find_pose(character, self.pose)
        return replace(character, poses=tuple(p for p in character.poses if p is not gone))

    def describe(self, character: Character) -> str:
        return f"Removed the pose {self.pose}"


class RenamePose(Edit):
    """Give a pose another label; its name, by which files and addresses know it, stays."""

    pose: str
    label: Annotated[str, Field(min_length=1, max_length=60)]

    def apply(self, character: Character, store: ArrayStore) -> Character:
        found = find_pose(character, self.pose)
        label = _label(character, self.label, found)
        return _with(character, found, replace(found, label=label))

    def describe(self, character: Character) -> str:
        return f"Renamed a pose to {' '.join(self.label.split())}"


class MovePose(Edit):
    """Move a pose along the strip, to a place counted from 0 among those that are shown."""

    pose: str
    to: Annotated[int, Field(ge=0, le=MOST_POSES)]

    def apply(self, character: Character, store: ArrayStore) -> Character:
        found = find_pose(character, self.pose)
        others = [p for p in character.poses if p is not found]
        shown = [p for p in others if not p.hidden]
        at = others.index(shown[self.to]) if self.to < len(shown) else len(others)
        return replace(character, poses=(*others[:at], found, *others[at:]))

    def describe(self, character: Character) -> str:
        return f"Moved the pose {find_pose(character, self.pose).label}"


class HidePose(Edit):
    """Keep a pose out of the strip, or bring it back: hidden it is neither drawn nor measured."""

    pose: str
    hidden: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        found = find_pose(character, self.pose)
        if self.hidden and not found.values:
            raise BadRequest("The neutral stays in the strip: all else is compared with it.")
        return _with(character, found, replace(found, hidden=self.hidden))

    def describe(self, character: Character) -> str:
        return f"{'Hid' if self.hidden else 'Brought back'} the pose {find_pose(character, self.pose).label}"


class AddRangeOfMotion(Edit):
    """Add test poses for what the rig can do: jaw, head, eyes, and every control at its ends."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        more = range_of_motion(character)
        if not more:
            raise BadRequest("The strip already holds everything this rig can do.")
        if len(character.poses) + len(more) > MOST_POSES:
            raise BadRequest(f"The strip holds {MOST_POSES} poses; remove some first.")
        first = () if any(not p.values for p in character.poses) else (Pose(pose_name("Neutral", set()), "Neutral", {}),)
        return replace(character, poses=(*first, *character.poses, *more))

    def describe(self, character: Character) -> str:
        return "Added a range of motion"


def _label(character: Character, label: str, own: Pose | None = None) -> str:
    """A label without needless spaces that no other pose has; BadRequest where it is none."""
    label = " ".join(label.split())
    if not label:
        raise BadRequest("A pose needs a name.")
    if any(p.label == label for p in character.poses if p is not own):
        raise BadRequest(f"There is already a pose called “{label}”.")
    return label


def _with(character: Character, old: Pose, new: Pose) -> Character:
    return replace(character, poses=tuple(new if p is old else p for p in character.poses))
