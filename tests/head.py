"""A head as tests hold it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.demo.faults import PlantedFault
from tightseam.demo.mesh_faults import MeshFault
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.lookup import part, points, polygons, vertex_set
from tightseam.document.model import Character
from tightseam.document.removal import settled
from tightseam.edits.base import Edit
from tightseam.edits.registry import Step, make_step
from tightseam.findings.finding import Finding
from tightseam.seams.meter import SeamMeter
from tightseam.seams.posed import PosedHead
from tightseam.seams.reading import Reading

TWO_FAULTS = (
    PlantedFault("lag", "teeth_lower", "follow_teeth_lower", "head", (("head", 0.5), ("teeth_lower", 0.5))),
    PlantedFault("lag", "eye_R", "follow_eye_R", "head", (("head", 1.0),)),
)


@dataclass
class Head:
    character: Character
    store: ArrayStore

    @cached_property
    def evaluator(self) -> Evaluator:
        return Evaluator(self.character, self.store)

    def with_controls(self, names: Collection[str]) -> Head:
        """The head with some of its controls, and what speaks of no others."""
        controls = tuple(c for c in self.character.controls if c.name in names)
        poses = tuple(p for p in self.character.poses if p.values.keys() <= set(names))
        return Head(settled(replace(self.character, controls=controls, plan=(), poses=poses)), self.store)

    def rest(self, name: str) -> np.ndarray:
        return points(self.character, self.store, name)

    def polygons(self, name: str):
        return polygons(self.store, part(self.character, name))

    def set(self, name: str, of: str = "skin") -> np.ndarray:
        return vertex_set(self.store, part(self.character, of), name)

    def values(self, changed: Mapping[str, float] | None = None) -> dict[str, float]:
        return checked_values(self.character, changed or {})

    def posed(self, name: str, changed: Mapping[str, float] | None = None) -> np.ndarray:
        return self.evaluator.points(self.values(changed))[self.evaluator.meshes.rows(name)]

    def posed_by(self, change: Callable[[str, np.ndarray], np.ndarray] = lambda part, points: points) -> PosedHead:
        """The head as gauges see it, its parts at rest but for a change of their points."""
        points = {p.name: change(p.name, self.rest(p.name).astype(float)) for p in self.character.parts}
        return PosedHead(points, points, np.eye(4)[None], ())

    def gauge(self, seam: str):
        return self.meter().gauges[[s.name for s in self.character.seams].index(seam)]

    def meter(self) -> SeamMeter:
        return self._meter

    def readings(self) -> dict[str, list]:
        return self._readings

    @cached_property
    def _meter(self) -> SeamMeter:
        return SeamMeter(self.character, self.store, self.evaluator)

    @cached_property
    def _readings(self) -> dict[str, list]:
        return {pose.name: self._meter.measure_pose(pose) for pose in self.character.poses}


def after(head: Head, *edits: Edit) -> Head:
    """The head with these edits applied, one after another."""
    store, character = MemoryStore(head.store), head.character
    for edit in edits:
        character = edit.apply(character, store)
    return Head(character, store)


def step_of(finding: Finding) -> Step:
    """The first repair of a finding, as a step of a recipe."""
    return make_step(finding.repairs[0].edit, finding.repairs[0].params)


def repaired(head: Head, finding: Finding) -> Head:
    """The head after the first repair of a finding."""
    return after(head, step_of(finding).params)


def grown(was: Reading, now: Reading) -> float:
    """By how many mm a seam got worse at most."""
    return max((getattr(now, what) or 0) - (getattr(was, what) or 0) for what in ("overlap", "gap", "lag", "drift"))


@dataclass
class FreshPim(Head):
    """Pim as delivered, and what was planted in him."""

    planted: tuple[MeshFault, ...]
