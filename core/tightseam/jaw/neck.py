"""How hard the head stays and how much of the neck is lost while the head turns, nods and tilts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.deform.compare import in_head
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skinned_alike import all_dual
from tightseam.document.arrays import ArrayStore
from tightseam.document.channels import channels_of
from tightseam.document.model import Character, Control
from tightseam.document.poses import away_from_rest, rest_values
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Bools, Floats
from tightseam.geometry.volume import PatchVolume
from tightseam.jaw.face import LowerFace
from tightseam.jaw.harden import neck_of

MOVES = (("Head turn", "y"), ("Head nod", "x"), ("Head tilt", "z"))
ABOVE_HINGES = 0.1  # of the way to the tops of the ears
SHARED = 0.01  # of a vertex that neck bones carry


@dataclass(frozen=True)
class NeckReading:
    """One movement of the head at one end: `squash` in mm is how far the head above the line gives, at `vertex`; `volume` of the neck in
    per cent of the neutral's, and with its bones mixed by dual quaternions wholly."""

    label: str
    values: Mapping[str, float]
    squash: float
    vertex: int
    volume: float
    volume_dual: float


@dataclass(frozen=True)
class NeckReport:
    """The `line` in cm up the neutral above which the head has to be hard, the lowest at which it is, and what each movement does."""

    line: float
    hard_from: float
    readings: tuple[NeckReading, ...]


class NeckMeter:
    """Measures the neck of one character. BadRequest where there is no neck."""

    def __init__(self, face: LowerFace, evaluator: Evaluator, dual: Evaluator) -> None:
        """`dual` poses the same character by dual quaternions alone."""
        self._face, self._evaluator, self._dual = face, evaluator, dual
        self._rows = evaluator.meshes.rows(face.skin.name)
        self._neck = {b.name for b in neck_of(face.character)}

    @property
    def usual_line(self) -> float:
        """Where a head is hard from: just above the hinges of the jaw, where the skull sits on the neck."""
        hinges, ears = (np.mean([self._face.surface.mark(f"{name}_{side}")[1] for side in "LR"]) for name in ("jaw_hinge", "ear_top"))
        return float(hinges + ABOVE_HINGES * (ears - hinges))

    def measure(self, line: float | None = None) -> NeckReport:
        line = self.usual_line if line is None else line
        above = self._face.surface.points[:, 1] > line
        moves = list(head_moves(self._face.character))
        return NeckReport(line, self._hard_from(), tuple(self._reading(label, values, above) for label, values in moves))

    def _hard_from(self) -> float:
        """The height above which neck bones carry nothing, cm."""
        table, bones = self._evaluator.rig.skinning.influences, self._face.character.bones
        neck = np.array([b.name in self._neck for b in bones] + [False])
        shared = (table.weights[self._rows] * neck[table.bones[self._rows]]).sum(axis=1) > SHARED
        heights = self._face.surface.points[shared, 1]
        return float(heights.max()) if len(heights) else float(self._face.surface.points[:, 1].min())

    def _reading(self, label: str, values: Mapping[str, float], above: Bools) -> NeckReading:
        off = np.where(above, self._given(values), 0.0)
        volumes = [self._volume.of(e.points(values)[self._rows].astype(float)) for e in (self._evaluator, self._dual)]
        rest = self._volume.of(self._face.surface.points)
        share = [100 * v / max(rest, 1e-9) for v in volumes]
        return NeckReading(
            label, away_from_rest(self._face.character, values), float(off.max(initial=0)) * CM_TO_MM, int(off.argmax()), *share
        )

    def _given(self, values: Mapping[str, float]) -> Floats:
        """How far (N,) in cm each vertex is from where the head alone would have it."""
        stages = self._evaluator.stages(values)
        to_head = self._evaluator.to_head(self._evaluator.matrices(values))
        posed = in_head(stages.skinned[self._rows].astype(float), to_head)
        return np.asarray(np.linalg.norm(posed - stages.sealed[self._rows], axis=1))

    @cached_property
    def _volume(self) -> PatchVolume:
        s = self._face.surface
        base, top = s.mark("neck_base")[1], s.mark("jaw_angle_L")[1]
        inside = self._face.outside & (s.points[:, 1] > base) & (s.points[:, 1] < top) & (s.points[:, 2] < s.mark("chin_under")[2])
        return PatchVolume(s.triangles[inside[s.triangles].all(axis=1)])


def head_moves(character: Character) -> list[tuple[str, dict[str, float]]]:
    """The head turned, nodded and tilted to both ends, in words and as values of controls, by controls or by the bone's own."""
    rest = rest_values(character)
    found = []
    for label, axis in MOVES:
        control = next((c for c in character.controls if _moves_head(c, axis)), None)
        if control is not None:
            ends = [(control.label, control.name, end) for end in (control.low, control.high) if end != control.rest]
        else:
            head = next(b for b in character.bones if b.name == "head")
            own = next((c for c in channels_of(head) if (c.kind, c.axis) == ("turn", axis)), None)
            ends = [] if own is None else [(label, own.name, end) for end in own.span if end]
        found += [(f"{said}, {end:+g}°", rest | {name: end}) for said, name, end in ends]
    return found


def _moves_head(control: Control, axis: str) -> bool:
    return any((n.kind, n.target, n.by, n.axis) == ("bone", "head", "turn", axis) for n in control.links)


def neck_meter(face: LowerFace, store: ArrayStore, evaluator: Evaluator) -> NeckMeter | None:
    """The meter of a neck; None where head and neck have no bones of their own."""
    head = next((b for b in face.character.bones if b.name == "head"), None)
    if head is None or head.parent is None:
        return None
    return NeckMeter(face, evaluator, Evaluator(all_dual(face.character, store), store))
