"""Contacts: lids on eyes, lip on lip, and what must stay out of teeth."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np
from scipy.spatial import cKDTree

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Character, Seam
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.types import Floats
from tightseam.seams.patches import patch_distance
from tightseam.seams.place import place
from tightseam.seams.probe import Probe, probe_of
from tightseam.seams.reading import Place, Reading

if TYPE_CHECKING:
    from tightseam.seams.meter import PosedHead

REACH = 0.8  # cm within which surfaces are looked at
LIP_REACH = 0.5
JUST_OUTSIDE = 0.01
SLIDE = 0.15  # cm that lips may slide along one another


class SolidGauge:
    """A surface that must stay out of a closed part, each looked at from the other's samples too."""

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        assert seam.solid is not None
        self._seam = seam
        self._probe = probe_of(seam.probe, seam.probe_set, character, store, evaluator)
        self._solid = probe_of(seam.solid, seam.solid_set, character, store, evaluator)
        self._mutual = seam.probe_set is None

    def hangs_on(self, posed: PosedHead) -> list[Floats]:
        """All that a reading depends on beside the seam."""
        return [posed.points[p.part][p.vertices] for p in (self._probe, self._solid)]

    def read(self, posed: PosedHead) -> Reading:
        overlap, gap, worst = self.depth(posed)
        return _judged(self._seam, overlap, gap, None, worst)

    def depth(self, posed: PosedHead) -> tuple[float, float, Place]:
        """Deepest overlap and smallest gap in mm, and where."""
        deepest, where = _deepest(self._probe, self._solid, posed)
        if self._mutual:
            deepest, where = min((deepest, where), _deepest(self._solid, self._probe, posed), key=lambda found: found[0])
        return max(0.0, -deepest) * CM_TO_MM, max(0.0, deepest) * CM_TO_MM, where


class LidGauge(SolidGauge):
    """A lid on its eye: overlap anywhere, gap at the margin, and the gap between the margins where closing is claimed."""

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator, neutral: Mapping[str, Floats]) -> None:
        super().__init__(seam, character, store, evaluator)
        part = find_part(character, seam.probe)
        assert seam.margin is not None
        assert seam.meets is not None
        self._margin = vertex_set(store, part, seam.margin)
        self._partner = vertex_set(store, part, seam.meets)
        _, sides = self._across(neutral)
        self._home = 1.0 if sides.sum() >= 0 else -1.0

    def hangs_on(self, posed: PosedHead) -> list[Floats]:
        skin = posed.points[self._seam.probe]
        lids = [skin[self._margin], skin[self._partner], posed.points[self._solid.part], np.array([self._home])]
        return [*super().hangs_on(posed), *lids]

    def _across(self, points: Mapping[str, Floats]) -> tuple[Floats, Floats]:
        skin = points[self._seam.probe]
        return across(skin[self._margin], skin[self._partner], points[self._solid.part].mean(axis=0))

    def read(self, posed: PosedHead) -> Reading:
        seam = self._seam
        overlap, _, worst = self.depth(posed)
        margin = posed.points[seam.probe][self._margin]
        off = np.maximum(self._solid.posed(posed.points).signed(margin, np.inf), 0.0)
        k = int(off.argmax())
        candidates = [(float(off[k]) * CM_TO_MM, seam.limits.gap, place(seam.probe, int(self._margin[k]), margin[k]))]
        if seam.claim in posed.closes:
            apart, side = self._across(posed.points)
            between = np.where(side == self._home, apart, 0.0)  # margins that pass each other leave no opening
            k = int(between.argmax())
            candidates.append((float(between[k]) * CM_TO_MM, seam.limits.closed_gap, place(seam.probe, int(self._margin[k]), margin[k])))
        gap, limit, at = max(candidates, key=lambda c: c[0] / (c[1] or np.inf))
        if limit and gap / limit > overlap / (seam.limits.overlap or np.inf):
            worst = at
        return _judged(seam, overlap, gap, limit, worst)


class PatchGauge:
    """Lip on lip: overlap beyond what the neutral has by design, gap along the line where closing is claimed."""

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator, neutral: Mapping[str, Floats]) -> None:
        self._seam = seam
        self._probe = probe_of(seam.probe, seam.probe_set, character, store, evaluator)
        self._solid = probe_of(seam.solid or seam.probe, seam.solid_set, character, store, evaluator)
        self._skin = probe_of(seam.probe, None, character, store, evaluator)
        part = find_part(character, seam.probe)
        self._line = vertex_set(store, part, seam.margin or "")
        self._designed = self._designed_overlap(neutral[seam.probe])

    def hangs_on(self, posed: PosedHead) -> list[Floats]:
        """All that a reading depends on beside the seam."""
        return [posed.points[self._skin.part], self._designed]

    def read(self, posed: PosedHead) -> Reading:
        seam = self._seam
        points = posed.points[seam.probe]
        signed = self._signed(points)
        beyond = np.maximum(0.0, -signed) - self._designed
        k = int(beyond.argmax())
        overlap, worst = max(0.0, float(beyond[k])) * CM_TO_MM, self._probe.place(k, (self._probe.mix @ points)[k])
        if seam.claim not in posed.closes:
            return _judged(seam, overlap, None, None, worst)
        open_by = self._opening(points, signed)
        k = int(open_by.argmax())
        gap = float(open_by[k]) * CM_TO_MM
        if gap / (seam.limits.closed_gap or np.inf) > overlap / (seam.limits.overlap or np.inf):
            worst = place(seam.probe, int(self._line[k]), points[self._line[k]])
        return _judged(seam, overlap, gap, seam.limits.closed_gap, worst)

    def _designed_overlap(self, neutral: Floats) -> Floats:
        """What the neutral overlaps by design (S,): the deepest of each sample's neighbourhood.

        Lips that slide along one another bring a sample to where its neighbour lay; that is no deeper overlap.
        """
        overlap, samples = np.maximum(0.0, -self._signed(neutral)), np.asarray(self._probe.mix @ neutral)
        around = cKDTree(samples).query_ball_point(samples, SLIDE)
        return np.array([overlap[near].max() for near in around])

    def _signed(self, points: Floats) -> Floats:
        """Distance (S,) of the samples to the other patch, negative inside its flesh."""
        samples = self._probe.mix @ points
        normals = self._probe.mix @ vertex_normals(points, self._skin.triangles)
        found = patch_distance(samples, normals, self._solid.tree.at(points), LIP_REACH)
        signed = np.where(found.facing, found.signed, LIP_REACH)
        behind = np.flatnonzero(signed < 0)
        # a sheet that curls has points behind it that are in the open: only what the whole skin encloses is overlap
        enclosed = self._skin.tree.at(points).winding(samples[behind] + normals[behind] * JUST_OUTSIDE) > 0.5
        signed[behind] = np.where(enclosed, signed[behind], np.abs(signed[behind]))
        return signed

    def _opening(self, points: Floats, signed: Floats) -> Floats:
        """How far each stretch of the line is open: the nearest approach of the samples within a lip's height of it."""
        samples = self._probe.mix @ points
        from_line = np.linalg.norm(samples[:, None] - points[self._line][None], axis=2)
        return np.maximum(0.0, np.where(from_line < 0.35, signed[:, None], LIP_REACH).min(axis=0))


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


def _deepest(probe: Probe, solid: Probe, posed: PosedHead) -> tuple[float, Place]:
    """The least signed distance of the samples of a probe to a solid, cm, and where that is."""
    samples = probe.samples(posed.points)
    k, signed = solid.posed(posed.points).deepest(samples, probe.path, REACH)
    return signed, probe.place(k, samples[k])


def _judged(seam: Seam, overlap: float, gap: float | None, gap_limit: float | None, worst: Place) -> Reading:
    excess = overlap / seam.limits.overlap if seam.limits.overlap else 0.0
    if gap is not None and gap_limit:
        excess = max(excess, gap / gap_limit)
    return Reading(seam.name, overlap=overlap, gap=gap, gap_limit=gap_limit, excess=excess, worst=worst)
