"""Edits of the list of shapes: names, order, what is muted or gone."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Character
from tightseam.document.removal import without
from tightseam.document.rename import with_shapes_renamed
from tightseam.edits.base import Edit

MOST_SHAPES = 2000

Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^\S(.*\S)?$")]
Names = Annotated[list[str], Field(min_length=1, max_length=MOST_SHAPES)]


class RenameShapes(Edit):
    """Give shapes other names (old -> new), all at once: names may be exchanged. What drives them goes on driving them."""

    names: dict[str, Name] = Field(min_length=1, max_length=MOST_SHAPES)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        names = {find_shape(character, old).name: new for old, new in self.names.items()}
        after = [names.get(s.name, s.name) for s in character.shapes]
        twice = next((n for n in names.values() if after.count(n) > 1), None)
        if twice is not None:
            raise BadRequest(f"Two shapes would be called “{twice}”.")
        return with_shapes_renamed(character, names)

    def describe(self, character: Character) -> str:
        old, new = next(iter(self.names.items()))
        return f"Renamed the shape {old} to {new}" if len(self.names) == 1 else f"Renamed {len(self.names)} shapes"


class MoveShapes(Edit):
    """Put shapes, in the order in which they stand, before another in the list; at its end without one."""

    names: Names
    before: str | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        going = {find_shape(character, name).name for name in self.names}
        before = find_shape(character, self.before).name if self.before is not None else None
        if before in going:
            raise BadRequest("Shapes cannot be put before themselves.")
        moved = [s for s in character.shapes if s.name in going]
        others = [s for s in character.shapes if s.name not in going]
        at = next((k for k, s in enumerate(others) if s.name == before), len(others))
        return replace(character, shapes=(*others[:at], *moved, *others[at:]))

    def describe(self, character: Character) -> str:
        return f"Moved {_said(character, self.names)} in the list"


class MuteShapes(Edit):
    """Keep shapes without letting them do anything, or let them again."""

    names: Names
    muted: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        of = {find_shape(character, name).name for name in self.names}
        return replace(character, shapes=tuple(replace(s, muted=self.muted) if s.name in of else s for s in character.shapes))

    def describe(self, character: Character) -> str:
        return f"{'Muted' if self.muted else 'Unmuted'} {_said(character, self.names)}"


class RemoveShapes(Edit):
    """Take shapes out, and what drove them."""

    names: Names

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return without(character, "shape", {find_shape(character, name).name for name in self.names})

    def describe(self, character: Character) -> str:
        return f"Removed the shape {self.names[0]}" if len(self.names) == 1 else f"Removed {len(self.names)} shapes"


def _said(character: Character, names: list[str]) -> str:
    return f"the shape {find_shape(character, names[0]).label}" if len(names) == 1 else f"{len(names)} shapes"
