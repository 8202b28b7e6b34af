"""The seam meter: all seams of a character in a pose."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from hashlib import blake2b

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.model import Character, Pose, Seam
from tightseam.document.poses import pose_values, rest_values
from tightseam.seams.clear import ClearGauge
from tightseam.seams.follow import FollowGauge
from tightseam.seams.itself import SelfGauge
from tightseam.seams.lid import LidGauge
from tightseam.seams.lips import LipGauge
from tightseam.seams.posed import PosedHead
from tightseam.seams.reading import Reading
from tightseam.seams.ride import RideGauge
from tightseam.seams.solid import SolidGauge

Gauge = LidGauge | LipGauge | SelfGauge | SolidGauge | ClearGauge | FollowGauge | RideGauge


class SeamMeter:
    """Measures the seams of one character. Compiled once; `measure` may be called for any pose."""

    def __init__(self, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        self.character = character
        self._evaluator = evaluator
        neutral = self._posed(rest_values(character), ())
        self.gauges = [_gauge(seam, character, store, evaluator, neutral) for seam in character.seams]

    def measure(self, values: Mapping[str, float], closes: Sequence[str] = ()) -> list[Reading]:
        """A reading a seam, in the order of the document. `values` holds every control; `closes` what the pose claims to close."""
        posed = self._posed(values, closes)
        return [_reading(seam, gauge, posed) for seam, gauge in zip(self.character.seams, self.gauges, strict=True)]

    def measure_pose(self, pose: Pose) -> list[Reading]:
        return self.measure(pose_values(self.character, pose), pose.closes)

    def _posed(self, values: Mapping[str, float], closes: Sequence[str]) -> PosedHead:
        stages = self._evaluator.stages(values)
        meshes = self._evaluator.meshes
        points, unskinned = (meshes.by_part(x.astype(np.float64)) for x in (stages.skinned, stages.sealed))
        return PosedHead(points, unskinned, self._evaluator.matrices(values), closes)


def _reading(seam: Seam, gauge: Gauge, posed: PosedHead) -> Reading:
    """The reading of a gauge; kept, so that an edit is measured only where it moves something."""
    if isinstance(gauge, FollowGauge | RideGauge):  # quicker read than looked up
        return gauge.read(posed)
    claimed = seam.claim is not None and seam.claim in posed.closes
    digest = blake2b(digest_size=16)
    for array in (*(posed.points[part][own] for part, own in gauge.vertices.items()), *gauge.known):
        digest.update(np.ascontiguousarray(array).data)
    return DERIVED.get(("reading", seam, claimed, digest.digest()), lambda: gauge.read(posed))


def _gauge(seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator, neutral: PosedHead) -> Gauge:
    if seam.measure == "lag":
        return FollowGauge(seam, character, store, evaluator)
    if seam.measure == "ride":
        return RideGauge(seam, character, store, evaluator)
    if seam.measure == "clear":
        return ClearGauge(seam, character, store, evaluator)
    if seam.measure == "self":
        return SelfGauge(seam, character, store, evaluator, neutral)
    if seam.measure == "patch":
        return LipGauge(seam, character, store, evaluator, neutral)
    if seam.margin is not None:
        return LidGauge(seam, character, store, evaluator, neutral.points)
    return SolidGauge(seam, character, store, evaluator)
