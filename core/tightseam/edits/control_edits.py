"""Edits of controls: what there is for animators to take hold of, and what it drives."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import moved, with_control
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.lookup import control as find_control
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Character, Control, Link
from tightseam.document.removal import without
from tightseam.document.rename import renamed
from tightseam.document.twins import other_side
from tightseam.edits.base import Edit
from tightseam.edits.set_range import FARTHEST, check_range

MOST_CONTROLS = 1000

Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^\S(.*\S)?$")]
Number = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST)]


class AddControl(Edit):
    """A control that drives nothing yet."""

    label: Name
    low: Number = 0.0
    high: Number = 1.0
    rest: Number = 0.0
    unit: Literal["", "°"] = ""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        check_range(self.label, self.low, self.high, self.rest)
        name = self.label.lower().replace(" ", "_").replace(".", "_")
        return _with_more(character, [Control(_free(character, name), self.label, self.low, self.high, self.rest, (), self.unit)])

    def describe(self, character: Character) -> str:
        return f"Made the control {self.label}"


class ControlShapes(Edit):
    """A control from 0 to 1 for each of some shapes that none drives yet; with `together` one for a left and a right shape at once."""

    shapes: list[str] = Field(min_length=1, max_length=MOST_CONTROLS)
    together: bool = False

    def apply(self, character: Character, store: ArrayStore) -> Character:
        driven = {n.target for c in character.controls for n in c.links if n.kind == "shape"}
        found = [find_shape(character, name) for name in self.shapes]
        left = [s for s in found if s.name not in driven and s.activation is None]
        if not left:
            by_themselves = any(s.activation is not None for s in found)
            how = "already, or come in by themselves" if by_themselves else "by a control already"
            raise BadRequest(f"All of these shapes are driven {how}.")
        made: list[Control] = []
        done: set[str] = set()
        for shape in left:
            twin = other_side(shape.name)
            pair = [s for s in left if self.together and s.name == twin]
            if shape.name in done:
                continue
            done |= {shape.name, *(s.name for s in pair)}
            links = tuple(Link("shape", s.name, 1.0) for s in (shape, *pair))
            label = f"{shape.label} + {pair[0].label}" if pair else shape.label
            made.append(Control(_free(character, shape.name, made), label, 0, 1, 0, links))
        return _with_more(character, made)

    def describe(self, character: Character) -> str:
        return f"Gave {len(self.shapes)} shapes controls" if len(self.shapes) > 1 else f"Gave {self.shapes[0]} a control"


class RenameControl(Edit):
    """Another label for a control, and another name where one is given."""

    control: str
    label: Name
    to: Name | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        control = find_control(character, self.control)
        character = with_control(character, replace(control, label=self.label))
        if self.to is None or self.to == control.name:
            return character
        if any(c.name == self.to for c in character.controls):
            raise BadRequest(f"There is a control called “{self.to}” already.")
        return renamed(character, "control", {control.name: self.to})

    def describe(self, character: Character) -> str:
        return f"Renamed the control {self.control} to {self.label}"


class RemoveControls(Edit):
    """Take controls out; what they drove stays at rest."""

    controls: list[str] = Field(min_length=1, max_length=MOST_CONTROLS)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return without(character, "control", {find_control(character, name).name for name in self.controls})

    def describe(self, character: Character) -> str:
        return f"Removed the control {self.controls[0]}" if len(self.controls) == 1 else f"Removed {len(self.controls)} controls"


class MoveControl(Edit):
    """Put a control before another in the list; at its end without one."""

    control: str
    before: str | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        before = find_control(character, self.before) if self.before is not None else None
        return replace(character, controls=moved(character.controls, find_control(character, self.control), before))

    def describe(self, character: Character) -> str:
        return f"Moved the control {find_control(character, self.control).label} in the list"


def _free(character: Character, name: str, more: list[Control] | None = None) -> str:
    return free_name(name, {c.name for c in (*character.controls, *(more or ()))})


def _with_more(character: Character, made: list[Control]) -> Character:
    if len(character.controls) + len(made) > MOST_CONTROLS:
        raise BadRequest(f"That would be more than {MOST_CONTROLS} controls, which are the most.")
    return replace(character, controls=(*character.controls, *made))
