"""Strokes that sculpt."""

from __future__ import annotations

from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.labels import part_label
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Character
from tightseam.edits.base import Edit
from tightseam.edits.drawing import DRAWINGS
from tightseam.edits.paint_edits import MOST_DABS
from tightseam.shapes.sculpt import SculptDab, Sculpting

DONE = {"move": "Moved", "swell": "Swelled", "sink": "Sank", "smooth": "Smoothed", "flatten": "Flattened", "erase": "Erased"}


class SculptShape(Edit):
    """Sculpt a shape with a brush on the posed head, dab by dab."""

    drawn = True

    sculpting: Sculpting
    dabs: list[SculptDab] = Field(min_length=1, max_length=MOST_DABS)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return DRAWINGS.painted(character, store, self.sculpting, self.dabs)

    def describe(self, character: Character) -> str:
        both = " on both sides" if self.sculpting.mirror else ""
        label = find_shape(character, self.sculpting.shape).label
        return f"{DONE[self.dabs[0].tool]} {part_label(self.sculpting.part)} in the shape {label}{both}"
