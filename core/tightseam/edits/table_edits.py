"""Weights typed, pasted or read as a table."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label, vertices_said
from tightseam.document.lookup import bone as find_bone
from tightseam.document.model import Character
from tightseam.edits.base import Edit
from tightseam.geometry.types import Bools, Floats
from tightseam.weights.change import NOTHING
from tightseam.weights.patch import Patch
from tightseam.weights.rows import with_rows

Weight = Annotated[float, Field(ge=0, le=1)]
WRITTEN = 5e-4  # by which a weight of three decimals may be off
OVER = 1e-6  # by which a total may be over 1 for rounding


class SetWeightCells(Edit):
    """Set the weights of some bones on some vertices, cell by cell: `weights[k][c]` of `bones[c]` on `vertices[k]`.

    The other bones share what is left of 1 in their proportions, keep what they have, or lose it. Locked bones keep theirs.
    """

    part: str
    vertices: list[int] = Field(min_length=1, max_length=2_000_000)
    bones: list[str] = Field(min_length=1, max_length=2000)
    weights: list[list[Weight]]
    others: Literal["share", "keep", "clear"] = "share"
    locked: list[str] = Field(default=[], max_length=2000)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        patch = Patch(character, store, self.part, self.vertices, self.locked)
        if len(self.weights) != len(self.vertices) or any(len(row) != len(self.bones) for row in self.weights):
            raise BadRequest("The table is not whole: it needs a row for each vertex and a weight for each bone in it.")
        if len(patch.vertices) != len(self.vertices) or len(set(self.bones)) != len(self.bones):
            raise BadRequest("A vertex or a bone stands in the table twice.")
        columns = [patch.column(name) for name in self.bones]
        order = np.argsort(self.vertices)
        rows = self._filled(patch, columns, np.array(self.weights, float)[order])
        return with_binding(character, with_rows(store, patch.binding, patch.bones, patch.vertices, rows))

    def _filled(self, patch: Patch, columns: list[int], wanted: Floats) -> Floats:
        rows = patch.rows.copy()
        rows[:, columns] = wanted
        others = patch.free.copy()
        others[columns] = False
        if self.others == "clear":
            rows[:, others] = 0
        if self.others == "share":
            self._even_out(rows, others, [c for c in columns if patch.free[c]])
            self._share(patch, rows, others)
        return rows

    def _even_out(self, rows: Floats, others: Bools, columns: list[int]) -> None:
        """Numbers as people write them do not add up to the last digit: where nothing else could take the difference, they do."""
        room = 1 - rows[:, ~others].sum(axis=1)
        written = rows[:, columns].sum(axis=1)
        alone = (rows[:, others].sum(axis=1) < NOTHING) | (room < 0)
        close = np.flatnonzero(alone & (np.abs(room) <= WRITTEN * len(columns)) & (written > NOTHING))
        rows[close[:, None], columns] *= ((written + room)[close] / written[close])[:, None]

    def _share(self, patch: Patch, rows: Floats, others: Bools) -> None:
        room = 1 - rows[:, ~others].sum(axis=1)
        shared = rows[:, others].sum(axis=1)
        unmet = np.flatnonzero((room < -OVER) | ((room > OVER) & (shared < NOTHING)))
        if len(unmet):
            total = 1 - room[unmet[0]]
            more = f" and {len(unmet) - 1} more" if len(unmet) > 1 else ""
            why = "too much for a total of 1" if total > 1 else "and no other bone carries it that could take the rest"
            raise BadRequest(f"Vertex {patch.vertices[unmet[0]]}{more} would have {total:.3f}, {why}.")
        scale = np.divide(np.maximum(room, 0), shared, out=np.zeros_like(shared), where=shared > NOTHING)
        rows[:, others] *= scale[:, None]

    def describe(self, character: Character) -> str:
        bones = len(self.bones)
        label = find_bone(character, self.bones[0]).label if bones == 1 else f"{bones} bones"
        return f"Set {label} by table on {vertices_said(len(self.vertices))} of {part_label(self.part)}"
