"""What moves vertices, and what holds them back: lists in millimetres that add up."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.shape_runs import NOTHING
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import part as find_part
from tightseam.document.units import CM_TO_MM
from tightseam.findings.cause import Cause, CauseKind
from tightseam.geometry.types import Floats, Ints

NEGLIGIBLE = 1e-4  # mm


@dataclass(frozen=True)
class Pull:
    """One cause of movement of several vertices: vectors (K, 3) in mm as seen from the head, and for bones the weights (K,)."""

    kind: CauseKind
    name: str
    label: str
    vectors: Floats
    weights: Floats | None = None

    @property
    def lengths(self) -> Floats:
        return np.asarray(np.linalg.norm(self.vectors, axis=1))

    def row(self) -> Cause:
        mean = self.vectors.mean(axis=0)
        weight = None if self.weights is None else float(self.weights.mean())
        vector = (float(mean[0]), float(mean[1]), float(mean[2]))
        return Cause(self.kind, self.name, self.label, float(self.lengths.mean()), vector, weight)


def pulls(evaluator: Evaluator, part: str, vertices: Sequence[int], values: Mapping[str, float]) -> list[Pull]:
    """Causes whose vectors add up to the displacement of each vertex, as seen from the head bone.

    Each active shape, what caps hold back of them, each relief, then the closing of the lids, eye relief and the seal of the
    lips, then each bone b by w_b (M_head⁻¹ M_b p − p), then what a total other than 1 does, (Σw − 1) p, and what dual quaternions do
    beyond that. For a part that rides, one cause stands for where its carrier takes it. In the space of the head, so that a turn of the
    head does not swamp the list.
    """
    rows = _rows(evaluator, part, vertices)
    stages = evaluator.stages(values)
    matrices = evaluator.matrices(values)
    p = stages.sealed[rows].astype(float)
    to_head = evaluator.to_head(matrices)
    of = find_binding(evaluator.character, part)
    turned = to_head[:3, :3] if of is not None and of.bones_first else np.eye(3)  # added to what is posed, seen from the head
    found = [
        *(replace(x, vectors=x.vectors @ turned.T) for x in (*_shapes(evaluator, rows, values), *_caps(evaluator, rows, values))),
        *_reliefs(evaluator, rows, values),
        Pull("lids", "lids", "Lids", CM_TO_MM * (stages.closed[rows] - stages.raised[rows]).astype(float)),
        Pull("eye relief", "eye_relief", "Eye relief", CM_TO_MM * (stages.relieved[rows] - stages.closed[rows]).astype(float)),
        Pull("seal", "lips", "Seal of the lips", CM_TO_MM * (stages.sealed[rows] - stages.relieved[rows]).astype(float)),
    ]
    on = next((b.ride.on for b in evaluator.character.bindings if b.part == part and b.ride), None)
    if on is not None:
        moved = _apply(to_head, stages.skinned[rows].astype(float))
        return [*found, Pull("ride", on, f"Rides on {part_label(on)}", CM_TO_MM * (moved - p), np.ones(len(rows)))]
    total = np.zeros(len(rows))
    for bone, weights in _influences(evaluator, rows):
        total += weights
        moved = _apply(to_head @ _matrix(matrices, bone), p)
        found.append(Pull("bone", *_bone_name(evaluator, bone), CM_TO_MM * weights[:, None] * (moved - p), weights))
    found.append(Pull("total", "total", "Total not 1", CM_TO_MM * (total - 1.0)[:, None] * p))
    if evaluator.rig.skinning.dual_mix is None:
        return found
    linear = p + sum((x.vectors for x in found if x.kind in ("bone", "total")), np.zeros_like(p)) / CM_TO_MM
    moved = _apply(to_head, stages.skinned[rows].astype(float))
    return [*found, Pull("dual", "dual", "Dual quaternions", CM_TO_MM * (moved - linear))]


def lags(evaluator: Evaluator, part: str, vertices: Sequence[int], values: Mapping[str, float], expected: Floats) -> list[Pull]:
    """What keeps vertices from where their rightful carrier would take them: w_b (M_expected − M_b) p.

    `expected` (K, B) are the weights they should have. The causes add up to the lag. A bone that does not move has no pull, but it has
    its share of the lag, and that is where the guilty one shows.
    """
    rows = _rows(evaluator, part, vertices)
    matrices = evaluator.matrices(values)
    p = evaluator.stages(values).sealed[rows].astype(float)
    to_head = evaluator.to_head(matrices)
    wanted = to_head @ np.einsum("kb,bij->kij", expected, matrices)
    rightful = np.einsum("kij,kj->ki", wanted[:, :3, :3], p) + wanted[:, :3, 3]
    found, total = [], np.zeros(len(rows))
    for bone, weights in _influences(evaluator, rows):
        total += weights
        share = weights[:, None] * (rightful - _apply(to_head @ _matrix(matrices, bone), p))
        found.append(Pull("bone", *_bone_name(evaluator, bone), CM_TO_MM * share, weights))
    return [*found, Pull("total", "total", "Total not 1", CM_TO_MM * (1.0 - total)[:, None] * rightful)]


def pull_list(evaluator: Evaluator, part: str, vertex: int, values: Mapping[str, float]) -> list[Cause]:
    """The causes of one vertex, longest first."""
    return listed(pulls(evaluator, part, [vertex], values))


def lag_list(evaluator: Evaluator, part: str, vertex: int, values: Mapping[str, float], expected: Floats) -> list[Cause]:
    """What holds one vertex back, longest first; `expected` (B,)."""
    return listed(lags(evaluator, part, [vertex], values, expected[None]))


def listed(causes: Sequence[Pull]) -> list[Cause]:
    """Rows of causes, longest first, without those that do nothing; bones always count."""
    shown = [r for r in (c.row() for c in causes) if r.millimetres > NEGLIGIBLE or r.kind == "bone"]
    return sorted(shown, key=lambda r: (-r.millimetres, -(r.weight or 0)))


def _rows(evaluator: Evaluator, part: str, vertices: Sequence[int]) -> Ints:
    found = find_part(evaluator.character, part)
    wrong = next((v for v in vertices if not 0 <= v < found.vertex_count), None)
    if wrong is not None:
        raise BadRequest(f"{part} has vertices 0 to {found.vertex_count - 1}; {wrong} is out of range.")
    return np.asarray(vertices, np.int64) + int(evaluator.meshes.rows(part).start)


def _shapes(evaluator: Evaluator, rows: Ints, values: Mapping[str, float]) -> list[Pull]:
    named, strengths = evaluator.character.shapes, evaluator.rig.strengths(values)
    return [
        Pull("shape", named[k].name, named[k].label, CM_TO_MM * float(strengths[k]) * evaluator.rig.shapes.offsets(k, rows))
        for k in np.flatnonzero(np.abs(strengths) > NOTHING).tolist()
    ]


def _caps(evaluator: Evaluator, rows: Ints, values: Mapping[str, float]) -> list[Pull]:
    held = evaluator.held_by_caps(values)
    return [] if held is None else [Pull("cap", "caps", "Held by caps", CM_TO_MM * -held[rows])]


def _reliefs(evaluator: Evaluator, rows: Ints, values: Mapping[str, float]) -> list[Pull]:
    strengths = evaluator.skeleton.relief_strengths(values)
    return [
        Pull("relief", r.name, r.label, CM_TO_MM * float(strengths[k]) * evaluator.rig.reliefs.offsets(k, rows))
        for k, r in enumerate(evaluator.character.reliefs)
    ]


def _influences(evaluator: Evaluator, rows: Ints) -> list[tuple[int, Floats]]:
    """Each bone that has any of these vertices, with its weights (K,)."""
    table = evaluator.rig.skinning.influences
    bones, weights = table.bones[rows], table.weights[rows].astype(float)
    return [(int(b), np.where(bones == b, weights, 0).sum(axis=1)) for b in np.unique(bones[weights > 0])]


def _matrix(matrices: Floats, bone: int) -> Floats:
    return matrices[bone] if bone < len(matrices) else np.eye(4)


def _bone_name(evaluator: Evaluator, bone: int) -> tuple[str, str]:
    bones = evaluator.character.bones
    return (bones[bone].name, bones[bone].label) if bone < len(bones) else ("nothing", "Nothing carries it")


def _apply(matrix: Floats, p: Floats) -> Floats:
    return np.asarray(p @ matrix[:3, :3].T + matrix[:3, 3])
