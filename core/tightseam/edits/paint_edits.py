"""Strokes of the brush."""

from __future__ import annotations

from pydantic import Field

from tightseam.brush.brush import Dab, Painting
from tightseam.document.arrays import ArrayStore
from tightseam.document.labels import part_label
from tightseam.document.lookup import bone as find_bone
from tightseam.document.model import Character
from tightseam.edits.base import Edit
from tightseam.edits.drawing import DRAWINGS

MOST_DABS = 20_000
DONE = {"set": "Painted", "add": "Painted", "take": "Took away", "smooth": "Smoothed", "even": "Evened out"}


class PaintWeights(Edit):
    """Paint one bone's weights with a brush, dab by dab."""

    drawn = True

    painting: Painting
    dabs: list[Dab] = Field(min_length=1, max_length=MOST_DABS)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return DRAWINGS.painted(character, store, self.painting, self.dabs)

    def describe(self, character: Character) -> str:
        label = find_bone(character, self.painting.bone).label
        both = " on both sides" if self.painting.mirror else ""
        return f"{DONE[self.dabs[0].tool]} {label} on {part_label(self.painting.part)}{both}"
