"""Change how far a control goes."""

from __future__ import annotations

from dataclasses import replace

from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_control
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import control as find_control
from tightseam.document.model import Character
from tightseam.edits.base import Edit

FARTHEST = 1000.0


def check_range(label: str, low: float, high: float, rest: float) -> None:
    """BadRequest where a control could not stand at its rest."""
    if not low < high or not low <= rest <= high:
        raise BadRequest(f"{label} needs low < high with rest between them; {low:g}, {rest:g}, {high:g} was given.")


class SetRange(Edit):
    """Lowest, highest and rest value of a control, in its own unit."""

    control: str
    low: float = Field(ge=-FARTHEST, le=FARTHEST)
    high: float = Field(ge=-FARTHEST, le=FARTHEST)
    rest: float = Field(ge=-FARTHEST, le=FARTHEST)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        control = find_control(character, self.control)
        check_range(control.label, self.low, self.high, self.rest)
        for pose in character.poses:
            value = pose.values.get(self.control, self.rest)
            if not self.low <= value <= self.high:
                raise BadRequest(f"The pose {pose.label} sets {control.label} to {value:g}. Keep that within the range.")
        return with_control(character, replace(control, low=self.low, high=self.high, rest=self.rest))

    def describe(self, character: Character) -> str:
        control = find_control(character, self.control)
        return f"Set {control.label} to go from {self.low:g} to {self.high:g}{control.unit}"
