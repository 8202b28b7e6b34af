"""What moves a vertex, and what holds it back: lists in millimetres that add up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Point
from tightseam.geometry.types import Floats

CM_TO_MM = 10.0
NEGLIGIBLE = 1e-4  # mm


@dataclass(frozen=True)
class PullRow:
    """One cause of movement: its share as a vector in mm (x, y, z), its length, and for bones the weight."""

    kind: Literal["shape", "relief", "bone", "total"]
    name: str
    label: str
    millimetres: float
    vector: Point
    weight: float | None = None


def pull_list(evaluator: Evaluator, part: str, vertex: int, values: Mapping[str, float]) -> list[PullRow]:
    """Rows whose vectors add up to the vertex's displacement, as seen from the head bone, longest first.

    Each active shape, then each eye relief, then each bone b by w_b (M_head⁻¹ M_b p − p), then what a total other than 1 does,
    (Σw − 1) p. In the space of the head, so that a turn of the head does not swamp the list.
    """
    row = _row(evaluator, part, vertex)
    stages = evaluator.stages(values)
    matrices = evaluator.matrices(values)
    rows = [
        *_shape_rows(evaluator, row, values),
        _made("relief", "eye_relief", "Eye relief", (stages.relieved[row] - stages.shaped[row]).astype(float)),
    ]
    p = stages.relieved[row].astype(float)
    to_head = _to_head(evaluator, matrices)
    total = 0.0
    for bone, weight in _influences(evaluator, row):
        total += weight
        moved = _apply(to_head @ _matrix(matrices, bone), p)
        name, label = _bone_name(evaluator, bone)
        rows.append(_made("bone", name, label, weight * (moved - p), weight))
    rows.append(_made("total", "total", "Total not 1", (total - 1.0) * p))
    return _sorted(rows)


def lag_list(evaluator: Evaluator, part: str, vertex: int, values: Mapping[str, float], expected: Floats) -> list[PullRow]:
    """What keeps a vertex from where its rightful carrier would take it, longest first: w_b (M_expected − M_b) p.

    `expected` (B,) are the weights the vertex should have. The rows add up to the lag. A bone that does not move has no
    pull, but it has its share of the lag, and that is where the guilty one shows.
    """
    row = _row(evaluator, part, vertex)
    matrices = evaluator.matrices(values)
    p = evaluator.stages(values).relieved[row].astype(float)
    to_head = _to_head(evaluator, matrices)
    wanted = np.einsum("b,bij->ij", expected, matrices)
    rows, total = [], 0.0
    for bone, weight in _influences(evaluator, row):
        total += weight
        name, label = _bone_name(evaluator, bone)
        share = weight * (_apply(to_head @ wanted, p) - _apply(to_head @ _matrix(matrices, bone), p))
        rows.append(_made("bone", name, label, share, weight))
    rows.append(_made("total", "total", "Total not 1", (1.0 - total) * _apply(to_head @ wanted, p)))
    return _sorted(rows)


def _row(evaluator: Evaluator, part: str, vertex: int) -> int:
    found = find_part(evaluator.character, part)
    if not 0 <= vertex < found.vertex_count:
        raise BadRequest(f"{part} has vertices 0 to {found.vertex_count - 1}; {vertex} is out of range.")
    return int(evaluator.meshes.rows(part).start) + vertex


def _shape_rows(evaluator: Evaluator, row: int, values: Mapping[str, float]) -> list[PullRow]:
    s = evaluator.shapes
    rows = []
    for shape, strength in zip(*evaluator.strengths(values), strict=True):
        for r in range(s.run_of_shape[shape], s.run_of_shape[shape + 1]):
            if s.run_start[r] <= row < s.run_start[r] + s.run_length[r]:
                at = s.run_values[r] + 3 * (row - s.run_start[r])
                found = evaluator.character.shapes[shape]
                rows.append(_made("shape", found.name, found.label, strength * s.values[at : at + 3].astype(float)))
    return rows


def _influences(evaluator: Evaluator, row: int) -> list[tuple[int, float]]:
    table = evaluator.influences
    return [(int(b), float(w)) for b, w in zip(table.bones[row], table.weights[row], strict=True) if w > 0]


def _matrix(matrices: Floats, bone: int) -> Floats:
    return matrices[bone] if bone < len(matrices) else np.eye(4)


def _bone_name(evaluator: Evaluator, bone: int) -> tuple[str, str]:
    bones = evaluator.character.bones
    return (bones[bone].name, bones[bone].label) if bone < len(bones) else ("nothing", "Nothing carries it")


def _to_head(evaluator: Evaluator, matrices: Floats) -> Floats:
    names = [b.name for b in evaluator.character.bones]
    return np.linalg.inv(matrices[names.index("head")]) if "head" in names else np.eye(4)


def _apply(matrix: Floats, p: Floats) -> Floats:
    return np.asarray(matrix[:3, :3] @ p + matrix[:3, 3])


def _made(kind: Literal["shape", "relief", "bone", "total"], name: str, label: str, cm: Floats, weight: float | None = None) -> PullRow:
    mm = cm * CM_TO_MM
    return PullRow(kind, name, label, float(np.linalg.norm(mm)), (float(mm[0]), float(mm[1]), float(mm[2])), weight)


def _sorted(rows: list[PullRow]) -> list[PullRow]:
    shown = [r for r in rows if r.millimetres > NEGLIGIBLE or r.kind == "bone"]
    return sorted(shown, key=lambda r: (-r.millimetres, -(r.weight or 0)))
