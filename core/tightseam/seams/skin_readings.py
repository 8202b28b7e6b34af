"""What the surface of the skin does in a pose of the strip."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.pull import pull_list
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character, Pose
from tightseam.document.poses import away_from_rest, pose_values, rest_values
from tightseam.findings.finding import Finding, Unit
from tightseam.findings.sizes import said_size
from tightseam.geometry.types import Floats
from tightseam.seams.place import place
from tightseam.seams.reading import Place
from tightseam.surfaces.limits import SKIN, SpotKind
from tightseam.surfaces.skin_meter import SkinMeter
from tightseam.surfaces.spots import Spot
from tightseam.surfaces.words import DOES

TOLD = 0.5  # of a limit from which a reading is worth a line


@dataclass(frozen=True)
class SkinReading:
    """The worst of one kind in one pose: its size against its limit, `said` and `allowed` in words, `called` by its place, at the vertex
    `worst` and on all its `vertices`.

    `excess` is the size as a multiple of its limit; never beyond 1 where an expression does as much by itself, for that is no fault of
    the pose.
    """

    kind: SpotKind
    size: float
    unit: Unit
    limit: float
    said: str
    allowed: str
    called: str
    worst: Place
    vertices: tuple[int, ...]
    excess: float


class SkinReader:
    """Reads the skin of one character. BadRequest where it has none, or not the landmarks that say what is face."""

    def __init__(self, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        self._character, self._evaluator = character, evaluator
        skin = next((p for p in character.parts if p.kind == "skin"), None)
        if skin is None:
            raise BadRequest("There is no part of kind skin.")
        self._part, self._rows = skin.name, evaluator.meshes.rows(skin.name)
        self._meter = SkinMeter(character, store, skin, self._posed({}))

    def read(self, values: Mapping[str, float]) -> tuple[SkinReading, ...]:
        """What comes near to a limit or is beyond it, a reading a kind, beyond what each of the values does by itself, and beyond what is
        there at rest; that is told of rest itself."""
        away = away_from_rest(self._character, values)
        each = [self._posed({name: value}) for name, value in away.items()] if len(away) > 1 else []
        posed = self._posed(values)
        states = [self._meter.state(points) for points in each]
        spots = self._meter.spots(posed, states, share=TOLD) if away else self._meter.at_rest(TOLD)
        worst: dict[SpotKind, Spot] = {}
        for spot in spots:
            if spot.kind not in worst or _weight(spot) > _weight(worst[spot.kind]):
                worst[spot.kind] = spot
        return tuple(self._reading(spot, posed) for spot in worst.values())

    def _posed(self, values: Mapping[str, float]) -> Floats:
        return np.asarray(self._evaluator.in_head(rest_values(self._character) | dict(values))[self._rows])

    def _reading(self, spot: Spot, posed: Floats) -> SkinReading:
        at = place(self._part, spot.vertex, posed[spot.vertex])
        size, limit = spot.size, spot.limit
        said, allowed = said_size(size, limit.unit), said_size(limit.size, limit.unit)
        return SkinReading(spot.kind, size, limit.unit, limit.size, said, allowed, spot.place, at, spot.vertices, _weight(spot))


def skin_findings(character: Character, evaluator: Evaluator, pose: Pose, readings: Sequence[SkinReading]) -> list[Finding]:
    """What is beyond its limit in a pose, the worst first."""
    over = sorted((r for r in readings if r.excess > 1), key=lambda r: -r.excess)
    return [_finding(character, evaluator, pose, r) for r in over]


def _finding(character: Character, evaluator: Evaluator, pose: Pose, r: SkinReading) -> Finding:
    causes = pull_list(evaluator, r.worst.part, r.worst.vertex, pose_values(character, pose))
    text = f"{r.said} in {pose.label}; {r.allowed} are allowed."
    return Finding(
        r.kind, SKIN, f"{DOES[r.kind]}: {r.called}", text, r.size, r.unit, r.limit, r.worst.part, r.vertices, r.worst.point, pose.name,
        pose.values, f"in {pose.label}", tuple(causes),
    )  # fmt: skip


def _weight(spot: Spot) -> float:
    excess = spot.size / spot.limit.size
    return excess if spot.over else min(excess, 1.0)
