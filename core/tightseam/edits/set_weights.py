"""Give vertices a weight."""

from __future__ import annotations

import numpy as np
from pydantic import Field

from tightseam.deform.compiled import MOST_INFLUENCES
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import part as find_part
from tightseam.document.make import dense_weights, make_influences
from tightseam.document.model import Binding, Character
from tightseam.edits.base import Edit
from tightseam.geometry.types import Floats, Ints


class SetWeights(Edit):
    """Set the weight of one bone on picked vertices. With `keep_total` the other bones give or take in proportion."""

    part: str
    vertices: list[int] = Field(min_length=1, max_length=2_000_000)
    bone: str
    value: float = Field(ge=0, le=1)
    keep_total: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part = find_part(character, self.part)
        picked = self._picked(part.vertex_count)
        find_bone(character, self.bone)
        names = [b.name for b in character.bones]
        bound = find_binding(character, self.part)
        weights = dense_weights(store, bound.influences if bound else (), names, part.vertex_count)
        weights[picked] = self._changed(weights[picked], names.index(self.bone), picked)
        too_many = np.flatnonzero((weights > 0).sum(axis=1) > MOST_INFLUENCES)
        if len(too_many):
            raise BadRequest(f"Vertex {too_many[0]} would have more than {MOST_INFLUENCES} influences. Take one away first.")
        changed = Binding(self.part, "weighted", make_influences(store, names, weights))
        return with_binding(character, changed)

    def describe(self, character: Character) -> str:
        count = len(set(self.vertices))
        noun = "vertex" if count == 1 else "vertices"
        return f"Set {find_bone(character, self.bone).label} to {self.value:g} on {count} {noun} of {part_label(self.part)}"

    def _picked(self, count: int) -> Ints:
        lowest, highest = min(self.vertices), max(self.vertices)
        if lowest < 0 or highest >= count:
            wrong = lowest if lowest < 0 else highest
            raise BadRequest(f"{part_label(self.part)} has vertices 0 to {count - 1}; {wrong} is out of range.")
        return np.unique(np.array(self.vertices, np.int64))

    def _changed(self, rows: Floats, column: int, picked: Ints) -> Floats:
        rows = rows.copy()
        rows[:, column] = 0
        others = rows.sum(axis=1)
        if self.keep_total:
            stuck = np.flatnonzero((others <= 0) & (self.value < 1))
            if len(stuck):
                raise BadRequest(
                    f"Nothing else carries vertex {picked[stuck[0]]}, so its total cannot be kept at 1. Give it to another bone first."
                )
            rows *= np.where(others > 0, (1 - self.value) / np.where(others > 0, others, 1), 0)[:, None]
        rows[:, column] = self.value
        return rows
