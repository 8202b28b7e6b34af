"""A stroke of the brush over a map of lids, on the posed head, dab by dab."""

from __future__ import annotations

from dataclasses import field, replace
from typing import Annotated

import numpy as np
from pydantic import Field
from pydantic.dataclasses import dataclass

from tightseam.brush.brush import STRICT, Brush
from tightseam.brush.canvas import canvas_of
from tightseam.brush.value_stroke import ValueStroke
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points as part_points
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Character, Lids, Side
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.lids.maps import MapName, map_of, with_map
from tightseam.lids.tune import eye_relief_of, lids_of, reswollen

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


class MapStroke(ValueStroke):
    """A map, painted, by side. How much lids swell for it, and what drives them in place of the arc, is found anew when the stroke is
    stored, and for what is seen of it.

    BadRequest where an eye has no lids or no such map, or a vertex is not there.
    """

    def __init__(self, character: Character, store: ArrayStore, painting: MapPainting) -> None:
        self._which, self._character, self._store = painting.map, character, store
        self._pose = checked_values(character, painting.values, overdrive=True)
        pair = lids_of(character, painting.side)
        self.part = part = find_part(character, pair.skin)
        canvas = canvas_of(character, store, part)
        only = np.ones(part.vertex_count, bool) if painting.only is None else vertex_mask(part, painting.only)
        sides = [pair.side] + [x.side for x in character.lids if painting.mirror and x.side != pair.side and x.skin == pair.skin]
        scratch, opened = MemoryStore(store), character
        values: dict[str, Floats] = {}
        for side in sides:
            pair = lids_of(opened, side)
            values[side] = map_of(opened, scratch, pair, painting.map)
            opened = with_map(opened, scratch, pair, painting.map, values[side], _about(opened, scratch, pair, canvas.mesh.points))
        self._evaluator = Evaluator(opened, scratch)
        self._rows = self._evaluator.meshes.rows(part.name)
        self._columns = {side: self._column(opened, scratch, side) for side in sides}
        free: dict[str, Bools] = {side: np.isin(np.arange(part.vertex_count), held) for side, (_, held) in self._columns.items()}
        free[painting.side] &= only
        super().__init__(painting.brush, canvas, values, free)

    @property
    def sides(self) -> tuple[Side, ...]:
        """The eyes whose maps are painted."""
        return tuple(self._columns)

    def painted(self, character: Character, store: ArrayStore) -> Character:
        """The character with the painted maps, and with as much swell as they ask for."""
        for side in self.sides:
            character = with_map(character, store, lids_of(character, side), self._which, self.values[side])
        for side in self.sides:
            character = reswollen(character, store, lids_of(character, side))
        return character

    def seen(self) -> Floats:
        scratch = MemoryStore(self._store)
        evaluator = Evaluator(self.painted(self._character, scratch), scratch)
        return evaluator.points(self._pose)

    def reposed(self) -> Floats:
        rig = self._evaluator.rig
        lids, eye_reliefs = list(rig.lids), list(rig.eye_reliefs)
        for side, (k, vertices) in self._columns.items():
            if self._which == "share":
                lids[k] = lids[k].with_share(self.values[side][vertices])
            else:
                eye_reliefs[k] = eye_reliefs[k].with_amount(self.values[side][vertices])
        self._evaluator.rig = replace(rig, lids=tuple(lids), eye_reliefs=tuple(eye_reliefs))
        return self._evaluator.points(self._pose)[self._rows].astype(np.float64)

    def _column(self, opened: Character, store: ArrayStore, side: Side) -> tuple[int, Ints]:
        """Where the evaluator has the map of an eye, and the vertices of the skin that it holds."""
        pair = lids_of(opened, side)
        if self._which == "share":
            return opened.lids.index(pair), np.asarray(store.get(pair.vertices))
        relief = eye_relief_of(opened, pair)
        assert relief is not None
        return opened.eye_reliefs.index(relief), np.asarray(store.get(relief.vertices))


def _about(character: Character, store: ArrayStore, pair: Lids, skin: Floats) -> Bools:
    """Which skin points (N, 3) lie about an eye, so that its maps can be painted there."""
    eye = part_points(character, store, pair.eye)
    centre, _ = fit_sphere(eye)
    return np.asarray(np.linalg.norm(skin - centre, axis=1) < REACH * np.linalg.norm(eye - centre, axis=1).max())
