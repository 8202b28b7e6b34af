"""Lids on their eyes."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Character, Seam
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Floats
from tightseam.seams.place import place
from tightseam.seams.posed import PosedHead
from tightseam.seams.probe import by_part
from tightseam.seams.reading import Place, Reading
from tightseam.seams.solid import SolidGauge, judged


class LidGauge(SolidGauge):
    """A lid on its eye: overlap anywhere, gap at the margin, and the gap between the margins where closing is claimed."""

    both_ways = False  # an open socket winds round the eye: only what it does to the lids can be told

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator, neutral: Mapping[str, Floats]) -> None:
        super().__init__(seam, character, store, evaluator)
        part = find_part(character, seam.probe)
        assert seam.margin is not None
        assert seam.meets is not None
        self._margin = vertex_set(store, part, seam.margin)
        self._partner = vertex_set(store, part, seam.meets)
        _, sides = self._across(neutral)
        self._home = 1.0 if sides.sum() >= 0 else -1.0
        eye = np.arange(len(neutral[self._solid.part]))
        lids = [(seam.probe, np.concatenate([self._margin, self._partner])), (self._solid.part, eye)]
        self.vertices, self.touching = (by_part([*of.items(), *lids]) for of in (self.vertices, self.touching))
        self.known += [self._margin, self._partner, np.array([self._home])]

    def _across(self, points: Mapping[str, Floats]) -> tuple[Floats, Floats]:
        skin = points[self._seam.probe]
        return across(skin[self._margin], skin[self._partner], points[self._solid.part].mean(axis=0))

    def off_eye(self, posed: PosedHead) -> tuple[float, Place]:
        """How far the margin is off the eye, in mm, and where."""
        margin = posed.points[self._seam.probe][self._margin]
        return self._at_margin(posed, np.maximum(posed.tree(self._solid).signed(margin, np.inf), 0.0))

    def opening(self, posed: PosedHead) -> tuple[float, Place]:
        """How far the margins are apart, in mm, and where; margins that pass each other leave no opening."""
        apart, side = self._across(posed.points)
        return self._at_margin(posed, np.where(side == self._home, apart, 0.0))

    def _at_margin(self, posed: PosedHead, sizes: Floats) -> tuple[float, Place]:
        k, part = int(sizes.argmax()), self._seam.probe
        return float(sizes[k]) * CM_TO_MM, place(part, int(self._margin[k]), posed.points[part][self._margin[k]])

    def read(self, posed: PosedHead) -> Reading:
        seam = self._seam
        overlap, worst = self.overlap(posed)
        candidates = [(*self.off_eye(posed), seam.limits.gap)]
        if seam.claim in posed.closes:
            candidates.append((*self.opening(posed), seam.limits.closed_gap))
        gap, at, limit = max(candidates, key=lambda c: c[0] / (c[2] or np.inf))
        if worst is None or (limit and gap / limit > overlap / (seam.limits.overlap or np.inf)):
            worst = at
        return judged(seam, overlap, gap, limit, worst)


def across(margin: Floats, partner: Floats, eye_centre: Floats) -> tuple[Floats, Floats]:
    """For each margin vertex (K, 3): its distance (K,) in cm to the partner's polyline, and on which side (K,) of it it lies.

    The side is signed along partner direction x outward, so that it turns with the head.
    """
    start, step = partner[:-1], np.diff(partner, axis=0)
    t = np.einsum("kpx,px->kp", margin[:, None] - start[None], step) / np.maximum((step**2).sum(axis=1), 1e-12)
    foot = start[None] + np.clip(t, 0, 1)[..., None] * step[None]
    nearest = np.linalg.norm(margin[:, None] - foot, axis=2).argmin(axis=1)
    at = foot[np.arange(len(margin)), nearest]
    apart = margin - at
    travel = np.cross(step[nearest], at - eye_centre)
    return np.linalg.norm(apart, axis=1), np.sign((apart * travel).sum(axis=1))
