"""A character posed by one shape after another, each alone."""

from __future__ import annotations

from dataclasses import replace

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import at_rest_by_themselves
from tightseam.document.model import Character, Control, Link
from tightseam.geometry.types import Floats


class ShapesAlone:
    """Poses a character by single shapes at full strength, whatever its controls link them to."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        controls = tuple(Control(f"{k}", s.label, 0, 1, 0, (Link("shape", s.name, 1),)) for k, s in enumerate(character.shapes))
        self.evaluator = Evaluator(replace(at_rest_by_themselves(character), controls=controls, poses=()), store)
        self._rest = dict.fromkeys((c.name for c in controls), 0.0)

    def rest(self) -> Floats:
        """Points (N, 3) of all parts without any shape."""
        return self.evaluator.points(self._rest)

    def points(self, shape: int) -> Floats:
        """Points (N, 3) of all parts with the shape of that number alone."""
        return self.evaluator.points(self._rest | {f"{shape}": 1.0})
