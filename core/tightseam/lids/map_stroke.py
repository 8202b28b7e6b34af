"""A stroke of the brush over a map of lids, on the posed head, dab by dab."""

from __future__ import annotations

from dataclasses import field, replace
from typing import Annotated

import numpy as np
from pydantic import Field
from pydantic.dataclasses import dataclass

from tightseam.deform.evaluator import CompiledSections, Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points as part_points
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Character, Lids, Side
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.lids.maps import MapName, map_of, with_map
from tightseam.lids.tune import lids_of, relief_of
from tightseam.weights.brush import STRICT, Brush, Dab
from tightseam.weights.canvas import Canvas
from tightseam.weights.touch import painted, touched

REACH = 3.0  # eye radii from the centre of an eye within which its maps can be painted


@dataclass(frozen=True, config=STRICT)
class MapPainting:
    """What a stroke paints on: a map of one eye's lids, on the head posed by `values`. `only` limits it to some vertices of the skin, with
    `mirror` the other eye gets the same."""

    side: Side
    map: MapName
    brush: Brush
    values: Annotated[dict[str, float], Field(max_length=2000)] = field(default_factory=dict)
    only: Annotated[list[int], Field(max_length=2_000_000)] | None = None
    mirror: bool = False


class MapStroke:
    """A map, painted. The skin is where the lids put it after each dab, so the surface follows the brush; how much it swells is found
    again when the stroke is stored. The same dabs give the same values to the bit, drawn live or replayed.

    BadRequest where an eye has no lids or no such map, or a vertex is not there.
    """

    def __init__(
        self, character: Character, store: ArrayStore, painting: MapPainting, canvas: Canvas, kept: CompiledSections | None = None
    ) -> None:
        self._painting, self._canvas = painting, canvas
        self._pose = checked_values(character, painting.values, overdrive=True)
        pair = lids_of(character, painting.side)
        self.part = find_part(character, pair.skin)
        self._only = np.ones(self.part.vertex_count, bool) if painting.only is None else vertex_mask(self.part, painting.only)
        sides = [pair.side] + [x.side for x in character.lids if painting.mirror and x.side != pair.side and x.skin == pair.skin]
        scratch, opened = MemoryStore(store), character
        self._values: dict[Side, Floats] = {}
        for side in sides:
            pair = lids_of(opened, side)
            self._values[side] = map_of(opened, scratch, pair, painting.map)
            opened = with_map(opened, scratch, pair, painting.map, self._values[side], _about(opened, scratch, pair, canvas.points))
        self._before = {side: values.copy() for side, values in self._values.items()}
        self._evaluator = Evaluator(opened, scratch, kept)
        self._rows = self._evaluator.meshes.rows(self.part.name)
        self._columns = {side: self._column(opened, scratch, side) for side in sides}
        self._allowed = {side: np.isin(np.arange(self.part.vertex_count), held) for side, (_, held) in self._columns.items()}
        self.posed: Floats = np.empty(0)
        self._repose()

    def dab(self, dab: Dab) -> Ints:
        """Paint one dab; the vertices (K,), sorted, of the skin whose values it changed."""
        if dab.vertex >= self.part.vertex_count:
            raise BadRequest(f"The skin has vertices 0 to {self.part.vertex_count - 1}; {dab.vertex} is out of range.")
        near, amount = touched(self._painting.brush, self._canvas, self.posed, dab)
        first, *others = self._values
        changed = self._paint(first, near, amount, dab)
        for side in others:
            image = self._canvas.partners[near]
            order = np.argsort(image[image >= 0])
            changed = np.union1d(changed, self._paint(side, image[image >= 0][order], amount[image >= 0][order], dab))
        self._repose()
        return changed

    def shown(self, vertices: Ints) -> tuple[Floats, Floats]:
        """The values (K,) of vertices in the maps that are painted, and ones."""
        own = np.max([values[vertices] for values in self._values.values()], axis=0)
        return own, np.ones(len(vertices))

    def normals(self, vertices: Ints) -> Floats:
        """Normals (K, 3) of vertices where they are posed now, not of length one."""
        return self._canvas.normals(self.posed, vertices)

    def painted(self, character: Character, store: ArrayStore) -> Character:
        """The character with the painted maps."""
        for side, values in self._values.items():
            character = with_map(character, store, lids_of(character, side), self._painting.map, values)
        return character

    @property
    def sides(self) -> tuple[Side, ...]:
        """The eyes whose maps are painted."""
        return tuple(self._values)

    def _paint(self, side: Side, near: Ints, amount: Floats, dab: Dab) -> Ints:
        free = self._only[near] if side == self._painting.side else np.ones(len(near), bool)
        free = free & self._allowed[side][near]
        near, amount = near[free], amount[free]
        if len(near):
            values = self._values[side]
            values[near] = painted(self._painting.brush, dab.tool, self._canvas, near, amount, values, self._before[side][near])
        return near

    def _column(self, opened: Character, store: ArrayStore, side: Side) -> tuple[int, Ints]:
        """Where the evaluator has the map of an eye, and the vertices of the skin that it holds."""
        pair = lids_of(opened, side)
        if self._painting.map == "share":
            return opened.lids.index(pair), np.asarray(store.get(pair.vertices))
        relief = relief_of(opened, pair)
        assert relief is not None
        return opened.reliefs.index(relief), np.asarray(store.get(relief.vertices))

    def _repose(self) -> None:
        for side, (k, vertices) in self._columns.items():
            values = self._values[side][vertices].astype(np.float32)
            if self._painting.map == "share":
                lids = self._evaluator.lids[k]
                self._evaluator.lids[k] = replace(lids, turning=replace(lids.turning, share=values))
            else:
                self._evaluator.reliefs[k] = replace(self._evaluator.reliefs[k], amount=values)
        self.posed = self._evaluator.points(self._pose)[self._rows].astype(np.float64)


def _about(character: Character, store: ArrayStore, pair: Lids, skin: Floats) -> Bools:
    """Which skin points (N, 3) lie about an eye, so that its maps can be painted there."""
    eye = part_points(character, store, pair.eye)
    centre, _ = fit_sphere(eye)
    return np.asarray(np.linalg.norm(skin - centre, axis=1) < REACH * np.linalg.norm(eye - centre, axis=1).max())
