"""Lip on lip."""

from __future__ import annotations

import numpy as np

from tightseam.contact.clash import Body, crossings, deepest_inside
from tightseam.contact.sections import Facing
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Character, Seam
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import AnyArray
from tightseam.seams.design import designed_depth
from tightseam.seams.place import place
from tightseam.seams.posed import PosedHead
from tightseam.seams.probe import belong, by_part, probe_of
from tightseam.seams.reading import Place, Reading
from tightseam.seams.solid import judged

PLACES = 73  # along the lips at which their gap is read


class LipGauge:
    """Lip on lip: overlap of either in the flesh of the other beyond what the neutral has by design; gap from corner to corner where
    closing is claimed."""

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator, neutral: PosedHead) -> None:
        self._seam = seam
        self._skin = probe_of(seam.probe, None, character, store, evaluator)
        self._lips = [probe_of(seam.probe, name, character, store, evaluator) for name in (seam.probe_set, seam.solid_set)]
        self._of_lip = [belong(self._skin.triangles, lip.vertices) for lip in self._lips]
        part = find_part(character, seam.probe)
        line = vertex_set(store, part, seam.margin or "")
        other_line = vertex_set(store, part, seam.meets or seam.margin or "")
        points = neutral.points[seam.probe]
        self._facing = Facing(points, self._lips[0].triangles, self._lips[1].triangles, line, other_line, PLACES)
        self._line = line
        body = neutral.body(self._skin)
        self._designed = [
            designed_depth(points, own.triangles, np.arange(len(own.triangles)), body, neutral.tree(other))
            for own, other in (self._lips, self._lips[::-1])
        ]
        self.vertices = by_part([(lip.part, lip.around) for lip in self._lips])
        self.touching = by_part([(lip.part, lip.vertices) for lip in self._lips])
        self.known: list[AnyArray] = [*(lip.vertices for lip in self._lips), line, other_line, *self._designed]

    def read(self, posed: PosedHead) -> Reading:
        seam = self._seam
        overlap, worst = self.overlap(posed)
        gap, limit = None, None
        if seam.claim in posed.closes:
            gap, at = self.opening(posed)
            limit = seam.limits.closed_gap
            if gap / (limit or np.inf) > overlap / (seam.limits.overlap or np.inf) or overlap == 0:
                worst = at
        return judged(seam, overlap, gap, limit, worst)

    def opening(self, posed: PosedHead) -> tuple[float, Place]:
        """How far the lips are apart where they are farthest, in mm, and where."""
        part = self._seam.probe
        gaps, places = self._facing.gaps(posed.points[part])
        k = int(gaps.argmax())
        nearest = np.linalg.norm(posed.points[part][self._line] - places[k], axis=1).argmin()
        return float(gaps[k]) * CM_TO_MM, place(part, int(self._line[nearest]), places[k])

    def overlap(self, posed: PosedHead, least: float = 0.0) -> tuple[float, Place]:
        """The deepest of either lip in the other, beyond what is designed, in mm, and where; 0 where it is no more than `least` mm."""
        points = posed.points[self._seam.probe]
        middle = int(self._line[len(self._line) // 2])
        deepest, worst = 0.0, place(self._seam.probe, middle, points[middle])
        crossed = crossings(posed.tree(self._lips[0]), posed.tree(self._lips[1]), same=True)
        for k in (0, 1):
            own, other = self._lips[k], self._lips[1 - k]
            body = Body(posed.body(self._skin), posed.tree(self._skin), self._of_lip[1 - k], posed.tree(other), own=True)
            found = deepest_inside(posed.tree(own), body, crossed[:, k], own.beside, self._designed[k], max(deepest, least / CM_TO_MM))
            if found.depth > deepest:
                deepest, worst = found.depth, own.place_on(found.triangle, found.point, posed.points)
        return deepest * CM_TO_MM, worst
