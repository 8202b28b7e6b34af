"""All that is measured of a head in one pose of the strip."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.kept import kept, kept_key
from tightseam.document.model import Character, Pose
from tightseam.document.poses import pose_values
from tightseam.document.sections import MEASURED
from tightseam.findings.finding import Finding
from tightseam.head.found import found_head
from tightseam.seams.asymmetry import MirrorGauge, Uneven, mirror_gauge
from tightseam.seams.findings import findings
from tightseam.seams.meter import SeamMeter
from tightseam.seams.reading import Reading
from tightseam.seams.skin_readings import SkinReader, SkinReading, skin_findings


@dataclass(frozen=True)
class PoseReport:
    """The readings of all seams and of the skin, left against right (None where the pose itself is uneven), and what of them is over
    its limit. Of a skin without landmarks there are no readings (None)."""

    readings: tuple[Reading, ...]
    skin: tuple[SkinReading, ...] | None
    uneven: tuple[Uneven, ...] | None
    findings: tuple[Finding, ...]

    @property
    def within(self) -> bool:
        return all(r.within for r in self.readings) and all(r.excess <= 1 for r in self.skin or ())


def pose_key(character: Character, pose: Pose) -> str:
    """The key under which the report of a pose is kept."""
    return kept_key("pose and skin", character, MEASURED, pose.name, pose.label, dict(pose.values), pose.closes)


class PoseMeter:
    """Measures poses of one character. It has buffers of its own, made when something is measured that is not kept."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self.character, self._store = character, store

    def report(self, pose: Pose) -> PoseReport:
        """Measured once for all characters in which nothing that is measured differs, and kept."""
        return kept(pose_key(self.character, pose), PoseReport, lambda: self._measured(pose))

    def measure(self, values: Mapping[str, float], closes: tuple[str, ...] = ()) -> PoseReport:
        """Any pose, by the values of its controls; it has no findings."""
        readings = self._seams.measure(values, closes)
        uneven = self._mirror.read(values, readings)
        skin = None if self._skin is None else self._skin.read(values)
        return PoseReport(tuple(readings), skin, None if uneven is None else tuple(uneven), ())

    def _measured(self, pose: Pose) -> PoseReport:
        found = self.measure(pose_values(self.character, pose), pose.closes)
        only_this = replace(self.character, poses=(pose,))
        seams = findings(only_this, self._store, self._evaluator, {pose.name: list(found.readings)})
        return replace(found, findings=(*seams, *skin_findings(self.character, self._evaluator, pose, found.skin or ())))

    @cached_property
    def _evaluator(self) -> Evaluator:
        return Evaluator(self.character, self._store)

    @cached_property
    def _seams(self) -> SeamMeter:
        return SeamMeter(self.character, self._store, self._evaluator)

    @cached_property
    def _skin(self) -> SkinReader | None:
        try:
            return SkinReader(self.character, self._store, self._evaluator)
        except BadRequest:
            return None

    @cached_property
    def _mirror(self) -> MirrorGauge:
        return mirror_gauge(found_head(self.character, self._store), self._evaluator, self._seams)
