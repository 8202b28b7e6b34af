"""Strokes of the brush."""

from __future__ import annotations

import numpy as np
from pydantic import Field

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.reskinned import Reskinned
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character
from tightseam.edits.base import Edit
from tightseam.weights.brush import Dab, Painting
from tightseam.weights.canvas import Canvas, canvas_of
from tightseam.weights.stroke import Stroke

MOST_DABS = 20_000
DONE = {"set": "Painted", "add": "Painted", "take": "Took away", "smooth": "Smoothed", "even": "Evened out"}


class PaintWeights(Edit):
    """Paint one bone's weights with a brush, dab by dab."""

    painting: Painting
    dabs: list[Dab] = Field(min_length=1, max_length=MOST_DABS)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        canvas = canvas_of(character, store, find_part(character, self.painting.part))
        stroke = begun(character, store, self.painting, Evaluator(character, store), canvas)
        vertices = np.unique(np.concatenate([stroke.dab(dab) for dab in self.dabs]))
        if not len(vertices):
            raise BadRequest("The brush touched nothing that may be painted.")
        return with_binding(character, stroke.binding(store, vertices))

    def describe(self, character: Character) -> str:
        label = find_bone(character, self.painting.bone).label
        both = " on both sides" if self.painting.mirror else ""
        return f"{DONE[self.dabs[0].tool]} {label} on {part_label(self.painting.part)}{both}"


def begun(character: Character, store: ArrayStore, painting: Painting, evaluator: Evaluator, canvas: Canvas) -> Stroke:
    """A stroke before its first dab. `evaluator` is that of the character and free to be used, `canvas` that of the part."""
    values = checked_values(character, painting.values, overdrive=True)
    skinned = Reskinned(evaluator, find_part(character, painting.part).name, values)
    return Stroke(character, store, painting, canvas, skinned.posed, skinned.at)
