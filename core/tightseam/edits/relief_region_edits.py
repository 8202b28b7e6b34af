"""Edits of the region of a relief: values typed, smoothed, painted; a relief as a shape."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field

from tightseam.bake.mouth import with_lips_baked, with_relief_baked
from tightseam.brush.brush import Dab
from tightseam.brush.canvas import canvas_of
from tightseam.deform.meshes import compile_meshes
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_relief
from tightseam.document.errors import BadRequest
from tightseam.document.labels import vertices_said
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import relief as find_relief
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Character
from tightseam.edits.base import Edit
from tightseam.edits.drawing import DRAWINGS
from tightseam.edits.paint_edits import DONE, MOST_DABS
from tightseam.jaw.relief_stroke import ReliefPainting
from tightseam.jaw.reliefs import relief_values, with_values
from tightseam.weights.fields import smoothed

Picked = Annotated[list[int], Field(min_length=1, max_length=2_000_000)]


class SetRegion(Edit):
    """Give picked vertices one value of a relief's region."""

    name: str
    vertices: Picked
    value: float = Field(ge=0, le=1)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        relief = find_relief(character, self.name)
        mask = vertex_mask(find_part(character, relief.part), self.vertices)
        values = np.where(mask, self.value, relief_values(character, store, relief))
        return with_relief(character, with_values(store, relief, values))

    def describe(self, character: Character) -> str:
        what = find_relief(character, self.name).label
        return f"Set the region of {what} to {self.value:.0%} on {vertices_said(len(set(self.vertices)))}"


class SmoothRegion(Edit):
    """Draw the region of a relief towards the mean of its neighbours, where it is picked or everywhere."""

    name: str
    vertices: Picked | None = None
    steps: int = Field(default=3, ge=1, le=100)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        relief = find_relief(character, self.name)
        part = find_part(character, relief.part)
        canvas, values = canvas_of(character, store, part), relief_values(character, store, relief)
        where = np.ones(len(values), bool) if self.vertices is None else vertex_mask(part, self.vertices)
        return with_relief(character, with_values(store, relief, smoothed(canvas, values, where, self.steps)))

    def describe(self, character: Character) -> str:
        return f"Smoothed the region of {find_relief(character, self.name).label}"


class PaintRegion(Edit):
    """Paint the region of a relief with a brush, dab by dab."""

    drawn = True

    painting: ReliefPainting
    dabs: list[Dab] = Field(min_length=1, max_length=MOST_DABS)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return DRAWINGS.painted(character, store, self.painting, self.dabs)

    def describe(self, character: Character) -> str:
        both = " on both sides" if self.painting.mirror else ""
        return f"{DONE[self.dabs[0].tool]} the region of {find_relief(character, self.painting.relief).label}{both}"


class BakeRelief(Edit):
    """Turn a relief into a shape that the same controls drive along the same curves: for formats that know no reliefs. Nothing moves."""

    name: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        relief = find_relief(character, self.name)
        if relief.muted:
            raise BadRequest(f"{relief.label} is muted and moves nothing; there is nothing to bake.")
        return with_relief_baked(character, store, relief, compile_meshes(character, store))

    def describe(self, character: Character) -> str:
        return f"Baked the relief {self.name} into a shape"


class BakeLips(Edit):
    """Turn the seal of the lips and the pull of their corners into shapes, as they are with the jaw wide open."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        if not character.lips:
            raise BadRequest("The lips are not set up, so there is nothing to bake.")
        return with_lips_baked(character, store)

    def describe(self, character: Character) -> str:
        return "Baked the seal of the lips into shapes"
