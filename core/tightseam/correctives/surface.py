"""The skin of a character in a pose, as a corrective is solved on it."""

from __future__ import annotations

from collections.abc import Mapping

from tightseam.deform.evaluator import Evaluator
from tightseam.geometry.types import Floats, Ints
from tightseam.shapes.unposing import STEP, by_differences

LEAST = 1e-9  # of a weight that is told from none


class PosedSkin:
    """What a pose of these `values` makes of the skin, the vertices `rows` of all parts, where a corrective has brought it (`weight`
    times): F(x + w δ), vertex by vertex, and its Jacobian. In the world."""

    def __init__(self, evaluator: Evaluator, rows: slice, values: Mapping[str, float], weight: float) -> None:
        self.values, self.weight = values, weight
        self._evaluator, self._rows = evaluator, rows
        self._shaped = evaluator.shaped(values)

    def points(self, free: Ints, offsets: Floats) -> Floats:
        """Points (N, 3) of all parts with offsets (F, 3) of the `free` vertices (F,) of the skin."""
        moved = self._shaped.copy()
        moved[self._rows.start + free] += self.weight * offsets
        return self._evaluator.posed_from(moved, self.values)

    def jacobians(self, free: Ints, offsets: Floats) -> Floats:
        """What becomes of a small movement of each of the `free` vertices there, (F, 3, 3), with the weight of the corrective in it."""
        own = self._rows.start + free
        return by_differences(lambda moved: self.points(free, moved)[own], offsets, STEP / max(abs(self.weight), LEAST))
