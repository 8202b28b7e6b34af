"""A stroke of the brush over values 0..1 of a part's vertices, on the posed surface, dab by dab."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping

import numpy as np

from tightseam.brush.brush import Brush, Dab, Tool
from tightseam.brush.canvas import Canvas
from tightseam.brush.touch import painted, touched
from tightseam.document.errors import BadRequest
from tightseam.geometry.types import Bools, Floats, Ints


class ValueStroke(ABC):
    """Values (N,) by a name, painted where they are `free` (N,). The first ones are painted under the brush, the others in its mirror
    image. The surface is posed anew after each dab, so it follows the brush. The same dabs give the same values to the bit."""

    NOTHING = "The brush touched nothing that may be painted."

    def __init__(self, brush: Brush, canvas: Canvas, values: Mapping[str, Floats], free: Mapping[str, Bools]) -> None:
        self.canvas, self.values = canvas, dict(values)
        self._brush, self._free, self._reaching = brush, free, canvas.reach()
        self._before = {name: x.copy() for name, x in values.items()}
        self.posed: Floats = self.reposed()

    @abstractmethod
    def reposed(self) -> Floats:
        """The points (N, 3) of the part, float64, as the values are now."""

    def dab(self, dab: Dab) -> Ints:
        """Paint one dab; the vertices (K,), sorted, whose values it changed."""
        if dab.vertex >= len(self.posed):
            raise BadRequest(f"The skin has vertices 0 to {len(self.posed) - 1}; {dab.vertex} is out of range.")
        near, amount = touched(self._brush, self.canvas, self._reaching, self.posed, dab)
        first, *others = self.values
        changed = self._paint(first, near, amount, dab.tool)
        for name in others:
            changed = np.union1d(changed, self._paint(name, *self.canvas.mirrored(near, amount), dab.tool))
        self.posed = self.reposed()
        return changed

    @abstractmethod
    def seen(self) -> Floats:
        """The points (N, 3) of all parts as they will be once the stroke is stored; `posed` is what the brush goes over meanwhile."""

    def shown(self, vertices: Ints) -> tuple[Floats, Floats]:
        """The largest of the values (K,) that some vertices have, and ones."""
        own = np.max([values[vertices] for values in self.values.values()], axis=0)
        return own, np.ones(len(vertices))

    def normals(self, points: Floats, vertices: Ints) -> Floats:
        """Normals (K, 3) of vertices of the part at `points` (N, 3), not of length one."""
        return self.canvas.normals(points, vertices)

    def _paint(self, name: str, near: Ints, amount: Floats, tool: Tool) -> Ints:
        free = self._free[name][near]
        near, amount = near[free], amount[free]
        if len(near):
            values = self.values[name]
            values[near] = painted(self._brush, tool, self.canvas, near, amount, values, self._before[name][near])
        return near
