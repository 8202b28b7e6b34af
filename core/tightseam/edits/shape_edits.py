"""Edits of one shape: mirrored, flipped, scaled, cleaned, freed of what bones do, taken along by parts that lie on the skin."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import replace
from typing import Annotated

import numpy as np
from pydantic import Field

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_shape
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label, vertices_said
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import shape as find_shape
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Character, Side
from tightseam.document.units import CM_TO_MM
from tightseam.edits.base import Edit
from tightseam.shapes.offsets import Offsets, deltas_of, offsets_of, summed
from tightseam.shapes.posed import BonePose
from tightseam.shapes.sheet import FAINT
from tightseam.shapes.sides import flipped, mirrored
from tightseam.shapes.taken_along import changed_with_riders, taken_along

STRONGEST = 10.0

Values = Annotated[dict[str, float], Field(max_length=5000)]
Picked = Annotated[list[int], Field(min_length=1, max_length=2_000_000)]
Millimetres = Annotated[float, Field(ge=-500, le=500)]


class ShapeEdit(Edit):
    """A change of one shape."""

    name: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        shape = find_shape(character, self.name)
        offsets = self.changed(character, store, offsets_of(character, store, shape))
        return with_shape(character, replace(shape, deltas=deltas_of(store, offsets)))

    @abstractmethod
    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        """What the shape does after the edit."""

    def said(self, character: Character) -> str:
        return find_shape(character, self.name).label


class MirrorShape(ShapeEdit):
    """Copy what a shape does on one side over to the other."""

    of: Side = "L"

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        if self.of == "C":
            raise BadRequest("A shape is mirrored from its left or its right side.")
        return changed_with_riders(character, store, offsets, lambda sides, x: mirrored(sides, x, self.of))

    def describe(self, character: Character) -> str:
        return f"Mirrored the shape {self.said(character)} from its {'left' if self.of == 'L' else 'right'}"


class FlipShape(ShapeEdit):
    """Turn a shape into its mirror image: what the left did, the right does. With `of` it becomes the mirror image of that shape."""

    of: str | None = None

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        source = offsets if self.of is None else offsets_of(character, store, find_shape(character, self.of))
        return changed_with_riders(character, store, source, flipped)

    def describe(self, character: Character) -> str:
        if self.of is not None:
            return f"Made the shape {self.said(character)} the mirror image of {find_shape(character, self.of).label}"
        return f"Flipped the shape {self.said(character)}"


class ScaleShape(ShapeEdit):
    """Make a shape so many times as strong."""

    by: float = Field(ge=-STRONGEST, le=STRONGEST)

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        return summed([(offsets, self.by)])

    def describe(self, character: Character) -> str:
        return f"Scaled the shape {self.said(character)} by {self.by:g}"


class TakeOutPose(ShapeEdit):
    """Take what bones do in a pose out of a shape, so that both together give what the shape alone gave: nothing counts twice."""

    values: Values

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        pose = BonePose(Evaluator(character, store), store, checked_values(character, self.values))
        return pose.taken_out(offsets)[0]

    def describe(self, character: Character) -> str:
        return f"Took a pose of the bones out of the shape {self.said(character)}"


class CleanShape(ShapeEdit):
    """Let only what must move, move: vertices that a shape moves by less than `below` mm stay. With `vertices` of a `part` these stay,
    however far they went."""

    below: float = Field(default=FAINT * CM_TO_MM, gt=0, le=10)
    part: str | None = None
    vertices: Picked | None = None

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        if self.vertices is not None and self.part is not None:
            still = vertex_mask(find_part(character, self.part), self.vertices)
            if self.part not in offsets:
                raise BadRequest(f"{self.said(character)} does not move {part_label(self.part)}.")
            return offsets | {self.part: np.where(still[:, None], 0.0, offsets[self.part])}
        faint = {n: np.linalg.norm(x, axis=1) < self.below / CM_TO_MM for n, x in offsets.items()}
        return {n: np.where(faint[n][:, None], 0.0, x) for n, x in offsets.items()}

    def describe(self, character: Character) -> str:
        if self.vertices is not None:
            return f"Took {vertices_said(len(set(self.vertices)))} out of the shape {self.said(character)}"
        return f"Cleaned the shape {self.said(character)} of what moves less than {self.below:g} mm"


class OffsetVertices(ShapeEdit):
    """Move picked vertices of a part in a shape by so many mm to the character's left, up and forward."""

    part: str
    vertices: Picked
    left: Millimetres = 0.0
    up: Millimetres = 0.0
    forward: Millimetres = 0.0

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        part = find_part(character, self.part)
        moving = vertex_mask(part, self.vertices)
        by = np.array([self.left, self.up, self.forward]) / CM_TO_MM
        return offsets | {part.name: offsets.get(part.name, np.zeros((part.vertex_count, 3))) + moving[:, None] * by}

    def describe(self, character: Character) -> str:
        return f"Moved {vertices_said(len(set(self.vertices)))} in the shape {self.said(character)}"


class TakeAlong(ShapeEdit):
    """Let a part that lies on the skin go along with it in a shape, by offsets of its own."""

    part: str
    on: str

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        part, skin = find_part(character, self.part), find_part(character, self.on)
        if part is skin or skin.name not in offsets:
            raise BadRequest(f"{self.said(character)} does not move {part_label(skin.name)}, so there is nothing to go along with.")
        return offsets | {part.name: taken_along(character, store, part, skin, offsets[skin.name])}

    def describe(self, character: Character) -> str:
        return f"Let {part_label(self.part)} go along in the shape {self.said(character)}"
