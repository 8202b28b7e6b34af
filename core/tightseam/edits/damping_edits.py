"""Controls that do less while others act."""

from __future__ import annotations

from dataclasses import replace

from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_control
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import control as find_control
from tightseam.document.mix_model import Way
from tightseam.document.model import Character, Damping
from tightseam.edits.base import Edit, checked

MOST_DAMPINGS = 50


class DampControl(Edit):
    """Let a control do less while another acts: from where that `comes_in` on, down to what is `left` (0 to 1) where that is `full`.
    Without `left` that one damps it no longer."""

    control: str
    by: str
    way: Way | None = None
    comes_in: float = 0.0
    full: float = 1.0
    left: float | None = Field(ge=0, le=1)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        control, by = find_control(character, self.control), find_control(character, self.by)
        over = self.full > self.comes_in  # one that goes both ways may damp otherwise on each
        kept = tuple(d for d in control.damped if (d.by, d.way, d.full > d.comes_in) != (self.by, self.way, over))
        if self.left is None:
            if len(kept) == len(control.damped):
                raise BadRequest(f"{by.label} does not damp {control.label}.")
            return with_control(character, replace(control, damped=kept))
        if len(kept) >= MOST_DAMPINGS:
            raise BadRequest(f"{control.label} is damped by {MOST_DAMPINGS} others, which are the most.")
        damping = Damping(self.by, self.comes_in, self.full, self.left, self.way)
        return checked(with_control(character, replace(control, damped=(*kept, damping))))

    def describe(self, character: Character) -> str:
        control, by = find_control(character, self.control).label, find_control(character, self.by).label
        return f"{by} damps {control} no longer" if self.left is None else f"Left {self.left:.0%} of {control} while {by} acts"
