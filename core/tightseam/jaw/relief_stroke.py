"""A stroke of the brush over the region of a relief, on the posed head, dab by dab."""

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
from tightseam.deform.reliefs import compile_reliefs
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.change import with_relief
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import relief as find_relief
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Character
from tightseam.geometry.types import Bools, Floats
from tightseam.jaw.reliefs import relief_values, with_values


@dataclass(frozen=True, config=STRICT)
class ReliefPainting:
    """What a stroke paints on: the region of a relief, on the head posed by `values`. `only` limits it to some vertices of the part; with
    `mirror` the other side gets the same, in the relief's twin where it has one."""

    relief: str
    brush: Brush
    values: Annotated[dict[str, float], Field(max_length=2000)] = field(default_factory=dict)
    only: Annotated[list[int], Field(max_length=2_000_000)] | None = None
    mirror: bool = False


class ReliefStroke(ValueStroke):
    """A region, painted. BadRequest where there is no such relief, or a vertex is not there."""

    def __init__(self, character: Character, store: ArrayStore, painting: ReliefPainting) -> None:
        self._character, self._store = character, MemoryStore(store)
        self._pose = checked_values(character, painting.values, overdrive=True)
        relief = find_relief(character, painting.relief)
        self._evaluator = Evaluator(character, store)
        self._rows = self._evaluator.meshes.rows(relief.part)
        values = {relief.name: relief_values(character, store, relief)}
        self.part = part = find_part(character, relief.part)
        canvas = canvas_of(character, store, part)
        free: dict[str, Bools] = {
            relief.name: np.ones(part.vertex_count, bool) if painting.only is None else vertex_mask(part, painting.only)
        }
        if painting.mirror:  # without a twin the other half of the same region
            twin = find_relief(character, relief.twin) if relief.twin else relief
            key = twin.name if relief.twin else f"{relief.name} mirrored"
            values[key] = relief_values(character, store, twin) if relief.twin else values[relief.name]
            free[key] = np.ones(part.vertex_count, bool) if relief.twin else canvas.partners != np.arange(part.vertex_count)
        self._names = [relief.name, *([relief.twin] if painting.mirror and relief.twin else [])]
        super().__init__(painting.brush, canvas, values, free)

    def painted(self, character: Character, store: ArrayStore) -> Character:
        """The character with what was painted."""
        for name in self._names:
            character = with_relief(character, with_values(store, find_relief(character, name), self.values[name]))
        return character

    def reposed(self) -> Floats:
        changed, rig = self.painted(self._character, self._store), self._evaluator.rig
        reliefs = compile_reliefs(changed.reliefs, self._store, rig.meshes)
        self._evaluator.rig = replace(rig, reliefs=reliefs)
        return self.seen()[self._rows].astype(np.float64)

    def seen(self) -> Floats:
        return self._evaluator.points(self._pose)
