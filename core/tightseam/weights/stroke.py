"""A stroke of the brush over the weights of a part, on the posed head, dab by dab."""

from __future__ import annotations

from typing import Protocol

import numpy as np

from tightseam.brush.brush import Dab, Painting, Tool
from tightseam.brush.canvas import Canvas
from tightseam.brush.touch import painted, touched
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Bone, Character
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.weights.change import NOTHING, capped, given
from tightseam.weights.rows import MOST_INFLUENCES, rows_of, with_rows


class Skinned(Protocol):
    """What poses a part by weights that are handed over: `posed` (N, 3) is where its own bring it."""

    posed: Floats

    def at(self, vertices: Ints, weights: Floats) -> Floats:
        """The posed points (K, 3) of vertices (K,) with weights (K, B)."""

    def whole(self, vertices: Ints, weights: Floats) -> Floats:
        """The posed points (N, 3) of all parts with these."""


HINT = 1e-6  # of a weight that says which bones take what is given up


class Stroke:
    """Weights of one bone, painted on a part. The part is where its weights put it after each dab, so the surface follows the brush.

    `posed` (N, 3) are the points of the part as they are posed. The same dabs give the same weights to the bit, drawn live or replayed.
    BadRequest where a part, a bone or a vertex is not there, or the bone is locked.
    """

    NOTHING = "The brush touched nothing that may be painted."

    def __init__(self, character: Character, store: ArrayStore, painting: Painting, canvas: Canvas, skinned: Skinned) -> None:
        self.part = find_part(character, painting.part)
        self.bones = [b.name for b in character.bones]
        self._painting, self._canvas, self._reaching = painting, canvas, canvas.reach()
        found = find_binding(character, self.part.name)
        if found is None or found.ride is not None:
            raise BadRequest(f"{part_label(self.part.name)} has no weights yet: make them at Binding, then paint.")
        self._binding = found
        self.column = self.bones.index(find_bone(character, painting.bone).name)
        self._twin = self.bones.index(character.bones[self.column].twin or painting.bone)
        held = {find_bone(character, name).name for name in painting.locked}
        self._free: Bools = np.array([name not in held for name in self.bones], bool)
        for k in {self.column, self._twin} if painting.mirror else {self.column}:
            self._check(character.bones[k])
        every = np.arange(self.part.vertex_count)
        self.rows = rows_of(store, self._binding.influences, self.bones, every)
        self._before = self.rows.copy()
        self._only = np.ones(len(every), bool) if painting.only is None else vertex_mask(self.part, painting.only)
        self.posed, self._skinned = np.array(skinned.posed, np.float64), skinned
        self._changed = np.zeros(len(every), bool)

    def dab(self, dab: Dab) -> Ints:
        """Paint one dab; the vertices (K,), sorted, whose weights it changed."""
        if dab.vertex >= self.part.vertex_count:
            raise BadRequest(f"{part_label(self.part.name)} has vertices 0 to {self.part.vertex_count - 1}; {dab.vertex} is out of range.")
        near, amount = touched(self._painting.brush, self._canvas, self._reaching, self.posed, dab)
        changed = self._paint(near, amount, self.column, dab.tool)
        if self._painting.mirror:
            image, share = self._canvas.mirrored(near, amount)
            if self._twin == self.column:  # with one bone for both sides, what lies under both brushes is painted once
                once = ~np.isin(image, near)
                image, share = image[once], share[once]
            changed = np.union1d(changed, self._paint(image, share, self._twin, dab.tool))
        self.posed[changed] = self._skinned.at(changed, self.rows[changed])
        self._changed[changed] = True
        return changed

    @property
    def changed(self) -> Ints:
        """The vertices (K,), sorted, whose weights all dabs together changed."""
        return np.flatnonzero(self._changed)

    def seen(self) -> Floats:
        """The points (N, 3) of all parts as they will be once the stroke is stored."""
        return self._skinned.whole(self.changed, self.rows[self.changed])

    def shown(self, vertices: Ints) -> tuple[Floats, Floats]:
        """The bone's weights (K,) of vertices, and what all their weights add up to."""
        rows = self.rows[vertices]
        return rows[:, self.column], rows.sum(axis=1)

    def normals(self, points: Floats, vertices: Ints) -> Floats:
        """Normals (K, 3) of vertices of the part at `points` (N, 3), not of length one."""
        return self._canvas.normals(points, vertices)

    def painted(self, character: Character, store: ArrayStore) -> Character:
        """The character with the painted weights."""
        at = self.changed
        return with_binding(character, with_rows(store, self._binding, self.bones, at, self.rows[at], self._before[at]))

    def _paint(self, near: Ints, amount: Floats, column: int, tool: Tool) -> Ints:
        """Paint vertices, sorted, as far as they may be; those that were."""
        near, amount = near[self._only[near]], amount[self._only[near]]
        if not len(near):
            return near
        rows = self.rows[near]
        brush, start = self._painting.brush, self._before[near, column]
        wanted = painted(brush, tool, self._canvas, near, amount, self.rows[:, column], start)
        if self._painting.keep_total:
            rows = rows + self._takers(near, rows, column, wanted)
        here = np.flatnonzero(rows.any(axis=0) | (np.arange(rows.shape[1]) == column))  # no other bone gives or takes
        self.rows[near[:, None], here] = self._settled(rows[:, here], int(np.searchsorted(here, column)), wanted, self._free[here])
        return near

    def _takers(self, near: Ints, rows: Floats, column: int, wanted: Floats) -> Floats:
        """Next to nothing (K, B) for bones that may take what vertices give up that no other bone carries: those of their surroundings."""
        others = self._free & (np.arange(rows.shape[1]) != column)
        alone = (rows[:, others].sum(axis=1) <= NOTHING) & (wanted < rows[:, column])
        found = np.zeros_like(rows)
        if alone.any():
            found[alone] = HINT * (self._canvas.mesh.average[near[alone]] @ self.rows) * others
        return found

    def _settled(self, rows: Floats, column: int, wanted: Floats, free: Bools) -> Floats:
        if self._painting.keep_total:
            after = given(rows, column, wanted, free)[0]
        else:
            after = rows.copy()
            after[:, column] = wanted
        crowded = (after > 0).sum(axis=1) > MOST_INFLUENCES
        if crowded.any():
            after[crowded] = capped(after[crowded], free, MOST_INFLUENCES)
        return after

    def _check(self, bone: Bone) -> None:
        if bone.role == "helper":
            raise BadRequest(f"{bone.label} is a helper bone and deforms nothing. Paint with a bone that deforms.")
        if not self._free[self.bones.index(bone.name)]:
            raise BadRequest(f"{bone.label} is locked. Unlock it to paint with it.")
