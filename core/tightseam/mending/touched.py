"""Which poses an edit can change at all."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.document.poses import rest_values
from tightseam.document.sections import MEASURED
from tightseam.geometry.types import Floats
from tightseam.mix.meter import LEAST
from tightseam.mix.sweeper import DEFINES

HEARD = ("controls", "shapes")  # sections whose change is heard through what controls ask for


class Touched:
    """Tells poses of a character that an edit leaves as they are: by what stands where; where nothing but controls and shapes was changed,
    sooner, by all that these ask of bones, lids, reliefs, lips and shapes. Seams, parts and bones are the same."""

    def __init__(self, before: Character, store: ArrayStore, after: Character, scratch: ArrayStore) -> None:
        self._same_else = all(getattr(before, s) == getattr(after, s) for s in MEASURED if s not in HEARD)
        self.moves_only = all(getattr(before, s) == getattr(after, s) for s in DEFINES)
        self._before, self._after = Evaluator(before, store), Evaluator(after, scratch)
        self._rest = rest_values(after)
        still = rest_values(before)
        there = {s.name: s for s in after.shapes}
        self._same_shapes = {s.name for s in before.shapes if s.name in there and there[s.name].deltas == s.deltas}
        self.leaves_rest = self._same_else and not self.by(still, self._rest)

    def by(self, before: Mapping[str, float], after: Mapping[str, float]) -> bool:
        """Does the edit change a pose, which had these values of all controls before and is to have those after it?"""
        after = self._rest | dict(after)
        if not self._same_else:
            return self._moved(before, after)
        return not np.array_equal(self._asked(self._before, before), self._asked(self._after, after)) or self._other_shapes(before, after)

    def _moved(self, before: Mapping[str, float], after: Mapping[str, float]) -> bool:
        """Does anything stand otherwise? Seams hear of nothing else, but where they are others."""
        was, now = self._before.points(before), self._after.points(after)
        return was.shape != now.shape or bool((np.abs(was - now) > LEAST).any())

    def _asked(self, evaluator: Evaluator, values: Mapping[str, float]) -> Floats:
        skeleton = evaluator.skeleton
        of = (
            skeleton.angles(values),
            skeleton.shifts(values),
            skeleton.openness(values),
            skeleton.relief_strengths(values),
            *skeleton.mouth(values),
        )
        return np.concatenate([x.ravel() for x in of])

    def _other_shapes(self, before: Mapping[str, float], after: Mapping[str, float]) -> bool:
        """Are shapes at other strengths, or others at any?"""
        was, now = (
            {n: s for n, s in zip(e.rig.shapes.names, e.rig.strengths(v), strict=True) if s}
            for e, v in ((self._before, before), (self._after, after))
        )
        return was != now or not now.keys() <= self._same_shapes
