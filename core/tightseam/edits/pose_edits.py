"""Edits of the pose strip."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Annotated

from pydantic import Field

from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import pose as find_pose
from tightseam.document.model import Character, Pose
from tightseam.document.poses import rest_values
from tightseam.edits.base import Edit

MOST_POSES = 200


class KeepPose(Edit):
    """Keep values of controls and of bones' own controls as a test pose at the end of the strip."""

    label: Annotated[str, Field(min_length=1, max_length=60)]
    values: dict[str, float] = Field(max_length=2000)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        label = " ".join(self.label.split())
        if not label:
            raise BadRequest("A pose needs a name.")
        if len(character.poses) >= MOST_POSES:
            raise BadRequest(f"The strip holds {MOST_POSES} poses; remove one first.")
        if any(p.label == label for p in character.poses):
            raise BadRequest(f"There is already a pose called “{label}”.")
        rest = rest_values(character)
        away = {n: v for n, v in checked_values(character, self.values).items() if v != rest.get(n, 0.0)}
        if not away:
            raise BadRequest("Everything is at rest: turn a bone or move a control first.")
        return replace(character, poses=(*character.poses, Pose(_name(label, {p.name for p in character.poses}), label, away)))

    def describe(self, character: Character) -> str:
        return f"Kept the pose {self.label}"


class RemovePose(Edit):
    pose: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        gone = find_pose(character, self.pose)
        return replace(character, poses=tuple(p for p in character.poses if p is not gone))

    def describe(self, character: Character) -> str:
        return f"Removed the pose {self.pose}"


def _name(label: str, taken: set[str]) -> str:
    plain = re.sub(r"\W+", "_", label.lower()).strip("_") or "pose"
    name, k = plain, 2
    while name in taken:
        name, k = f"{plain}_{k}", k + 1
    return name
