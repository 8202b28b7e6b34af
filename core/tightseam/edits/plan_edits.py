"""Edits of the face plan."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import Field

from tightseam.controls.face_plan import arranged
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.lookup import by_name
from tightseam.document.lookup import control as find_control
from tightseam.document.model import Character, Pad
from tightseam.edits.base import Edit
from tightseam.edits.control_edits import Name

Share = Annotated[float, Field(ge=0, le=1)]


class ArrangePlan(Edit):
    """Stand a pad for every control where it moves the face."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        if not character.controls:
            raise BadRequest("There are no controls yet. Make one, or set up a first rig at Landmarks.")
        return replace(character, plan=arranged(character, store))

    def describe(self, character: Character) -> str:
        return "Arranged the face plan"


class SetPad(Edit):
    """Place a pad on the face plan; without a `pad` that is there a new one. `x` and `y` are controls, one of them may be missing."""

    pad: str | None = None
    label: Name
    x: str | None = None
    y: str | None = None
    at: tuple[Share, Share]

    def apply(self, character: Character, store: ArrayStore) -> Character:
        for name in (self.x, self.y):
            if name is not None:
                find_control(character, name)
        if (self.x is None and self.y is None) or self.x == self.y:
            raise BadRequest("A pad needs one control, or two that are not the same.")
        if self.pad is None:
            name = free_name(self.x or self.y or "", {p.name for p in character.plan})
            return replace(character, plan=(*character.plan, Pad(name, self.label, self.x, self.y, self.at)))
        old = by_name(character.plan, self.pad, "pad")
        changed = Pad(old.name, self.label, self.x, self.y, self.at)
        return replace(character, plan=tuple(changed if p is old else p for p in character.plan))

    def describe(self, character: Character) -> str:
        return f"Placed {self.label} on the face plan"


class RemovePad(Edit):
    """Take a pad off the face plan; its controls stay."""

    pad: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        gone = by_name(character.plan, self.pad, "pad")
        return replace(character, plan=tuple(p for p in character.plan if p is not gone))

    def describe(self, character: Character) -> str:
        return f"Took {self.pad} off the face plan"
