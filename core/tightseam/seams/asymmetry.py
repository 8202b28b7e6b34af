"""Left against right: how far twins among the seams, and the two halves of the skin, disagree in poses where they should agree."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.deform.compare import in_head, mirrored_difference
from tightseam.deform.evaluator import Evaluator
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import polygons
from tightseam.document.model import Seam
from tightseam.document.poses import rest_values
from tightseam.document.twins import other_side, side_of
from tightseam.geometry.symmetry import SYMMETRIC, Plane, symmetry_map
from tightseam.geometry.types import Floats, Ints
from tightseam.head.found import FoundHead
from tightseam.seams.meter import SeamMeter
from tightseam.seams.reading import Place, Reading

EVEN = 1e-4  # degrees, cm, or of a strength up to which left and right are asked for alike
TURN, MOVE = np.array([1.0, -1.0, -1.0]), np.array([-1.0, 1.0, 1.0])  # what a bone's own x, y, z ask of its twin in the mirror
MOST_SEAMS, MOST_SKIN = 0.2, 0.5  # mm by which they may disagree before an eye sees it


@dataclass(frozen=True)
class Uneven:
    """By how much left and right disagree in a region in one pose, beyond what they do at rest, mm: the worst of the pairs of `seams`
    there, or of the vertices of the skin. An eye does not see it up to `limit`, mm."""

    region: str
    label: str
    millimetres: float
    limit: float
    seams: tuple[str, str] | None = None
    worst: Place | None = None


def mirror_gauge(head: FoundHead, evaluator: Evaluator, meter: SeamMeter) -> MirrorGauge:
    """The gauge of a head by its skin, if it has one, and by what `meter` reads at rest."""
    at_rest = meter.measure(rest_values(evaluator.character))
    if head.skin is None:
        return MirrorGauge(evaluator, at_rest, head.plane, None, np.zeros(0, int))
    part, plane = head.skin.part, head.plane
    points, faces = np.asarray(head.store.get(part.points)), polygons(head.store, part)
    key = "partners", part.points, part.sizes, part.corners, plane.point.tobytes(), plane.normal.tobytes()
    partners = DERIVED.get(key, lambda: symmetry_map(points, faces, plane, SYMMETRIC))
    return MirrorGauge(evaluator, at_rest, plane, part.name, partners)


class MirrorGauge:
    """Holds left against right in the poses of one character that are their own mirror image. `plane` lies between the two sides, and
    `partners` (N,) are the vertices of the part `skin` across it, -1 where there is none."""

    def __init__(self, evaluator: Evaluator, at_rest: Sequence[Reading], plane: Plane, skin: str | None, partners: Ints) -> None:
        self._evaluator, self._plane, self._skin, self._partners = evaluator, plane, skin, partners
        character = evaluator.character
        names = {s.name: s for s in character.seams}
        self._pairs = [(s, names[twin]) for s in character.seams if side_of(s.name) == "L" and (twin := other_side(s.name) or "") in names]
        self._rest = {r.seam: r for r in at_rest}
        self._bone_twins = _rows({b.name: b.twin for b in character.bones})
        self._shape_twins = _rows({s.name: other_side(s.name) for s in character.shapes})
        self._relief_twins = _rows({r.name: other_side(r.name) for r in character.reliefs})
        rest = rest_values(character)
        self._apart_at_rest = self._apart(self._skin_at(rest), rest) if skin else np.zeros(0)

    def judges(self, values: Mapping[str, float]) -> bool:
        """Is the pose its own mirror image: are all bones, shapes, lids, reliefs and lips of both sides asked for alike?"""
        skeleton, bones = self._evaluator.skeleton, self._bone_twins
        turns, moves, shapes = skeleton.angles(values), skeleton.shifts(values), self._evaluator.rig.strengths(values)
        reliefs, lids, mouth = skeleton.relief_strengths(values), skeleton.openness(values).reshape(-1, 2), np.array(skeleton.mouth(values))
        apart = (
            turns - turns[bones] * TURN,
            moves - moves[bones] * MOVE,
            shapes - shapes[self._shape_twins],
            reliefs - reliefs[self._relief_twins],
            lids - lids[::-1],
            mouth - mouth[:, ::-1],
        )
        return all(float(np.abs(x).max(initial=0.0)) <= EVEN for x in apart)

    def read(self, values: Mapping[str, float], readings: Sequence[Reading]) -> list[Uneven] | None:
        """The worst of each region that has pairs, and of the skin; None where the pose is meant to be uneven. `readings` are those of
        all seams in the pose of these `values`."""
        if not self.judges(values):
            return None
        return [*self._of_seams({r.seam: r for r in readings}), *self._of_skin(values)]

    def _of_seams(self, readings: Mapping[str, Reading]) -> Iterator[Uneven]:
        worst: dict[str, tuple[float, Seam, Seam]] = {}
        for left, right in self._pairs:
            now, rest = (_difference(of[left.name], of[right.name]) for of in (readings, self._rest))
            apart = max(now - rest, 0.0)
            if left.region not in worst or apart > worst[left.region][0]:
                worst[left.region] = apart, left, right
        for region, (apart, left, right) in worst.items():
            further = max((readings[left.name], readings[right.name]), key=lambda r: r.excess)
            yield Uneven(region, f"{left.label} against {right.label}", apart, MOST_SEAMS, (left.name, right.name), further.worst)

    def _of_skin(self, values: Mapping[str, float]) -> Iterator[Uneven]:
        if not self._skin or not (self._partners >= 0).any():
            return
        points = self._skin_at(values)
        apart = np.maximum(self._apart(points, values) - self._apart_at_rest, 0)
        vertex = int(apart.argmax())
        x, y, z = points[vertex].tolist()
        yield Uneven("skin", "Skin", float(apart[vertex]), MOST_SKIN, None, Place(self._skin, vertex, (x, y, z)))

    def _skin_at(self, values: Mapping[str, float]) -> Floats:
        """Posed points (N, 3) of the skin."""
        assert self._skin is not None
        return self._evaluator.points(values).astype(float)[self._evaluator.meshes.rows(self._skin)]

    def _apart(self, points: Floats, values: Mapping[str, float]) -> Floats:
        """How far each posed vertex of the skin is from the mirror image of its partner, (N,) mm."""
        to_head = self._evaluator.to_head(self._evaluator.matrices(values))
        return mirrored_difference(in_head(points, to_head), self._partners, self._plane)


def _rows(twins: Mapping[str, str | None]) -> Ints:
    """The number of the twin of each, (K,), its own where there is none."""
    at = {name: k for k, name in enumerate(twins)}
    return np.array([at.get(twin or "", k) for k, twin in enumerate(twins.values())], int)


def _difference(left: Reading, right: Reading) -> float:
    """By how much two readings differ most in anything that both give, mm."""
    pairs = ((getattr(left, what), getattr(right, what)) for what in ("overlap", "gap", "lag", "drift"))
    return max((abs(a - b) for a, b in pairs if a is not None and b is not None), default=0.0)
