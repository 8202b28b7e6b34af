"""Letting a part ride on the surface of another."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tightseam.binding.ride import SMALL, By, with_ride
from tightseam.document import older
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character
from tightseam.document.older import reading
from tightseam.edits.base import Edit


class SetRide(Edit):
    """Let a part ride on the posed surface of another: each vertex on what lies under it, or whole islands as tufts on their root.

    What shapes did to the part is kept as far as riding does not do it already; where at most `tolerance` (cm) is left it is dropped.
    """

    part: str
    on: str
    by: Annotated[By, reading(older.RIDES)] = "vertex"
    tolerance: float = Field(default=SMALL, ge=0, le=10)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part, carrier = find_part(character, self.part), find_part(character, self.on)
        bound = find_binding(character, carrier.name)
        if part is carrier:
            raise BadRequest("A part rides on another one; both are the same.")
        if bound is None or bound.ride is not None:
            raise BadRequest(f"{part_label(carrier.name)} is not carried by bones, so nothing can ride on it.")
        if any(b.ride and b.ride.on == part.name for b in character.bindings):
            raise BadRequest(f"Other parts ride on {part_label(part.name)}; it cannot ride itself.")
        return with_ride(character, store, part, carrier, self.by, self.tolerance)

    def describe(self, character: Character) -> str:
        how = "vertex by vertex" if self.by == "vertex" else "as tufts"
        return f"Let {part_label(self.part)} ride on {part_label(self.on)} {how}"
