"""Frame: shapes, linear blend skinning, normals, packed to send; against scipy and against libigl doing the same."""

from __future__ import annotations

from collections.abc import Callable

import igl
import numpy as np
from scipy.sparse import csr_matrix
from tightseam.deform import plain
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character

from benchmarks.heads import posed_values
from benchmarks.timing import Row, medians

ROUNDS = 60


def run(name: str, character: Character, store: MemoryStore, reach: float) -> list[Row]:
    evaluator = Evaluator(character, store)
    values = {c.name: c.rest for c in character.controls} | posed_values(1)
    scipy_frame, igl_frame = _scipy_frame(evaluator, values), _igl_frame(evaluator, values)

    def ours() -> bytes:
        points, normals = evaluator.frame(values)
        return b"".join((points.data, normals.data))

    posed = np.frombuffer(ours(), np.float32)[: len(evaluator.meshes.rest) * 3].reshape(-1, 3)
    for other in (scipy_frame, igl_frame):
        theirs = np.frombuffer(other(), np.float32)[: posed.size].reshape(-1, 3)
        assert np.abs(theirs - posed).max() < 2e-3, "the reference does not pose the same head"
    time = medians({"ours": ours, "scipy": scipy_frame}, ROUNDS)
    slow = medians({"ours": ours, "igl": igl_frame}, 4, warm=1)
    count = len(evaluator.meshes.rest)
    return [
        Row(
            f"frame, {name} ({count:,} vertices)",
            time["ours"],
            "scipy sparse + igl normals",
            time["scipy"],
            f">= {reach}x",
            time["scipy"] / time["ours"] >= reach,
        ),
        Row(f"frame, {name}", slow["ours"], "igl.lbs_matrix + igl normals", slow["igl"], ">= 20x", slow["igl"] / slow["ours"] >= 20),
    ]


def _parts(evaluator: Evaluator) -> tuple[csr_matrix, csr_matrix, np.ndarray, np.ndarray]:
    """Shape matrix (3N, S), weight matrix (N, B + 1), rest points and triangles."""
    s, count = evaluator.rig.shapes, len(evaluator.meshes.rest)
    rows, columns, data = [], [], []
    for shape in range(len(s.names)):
        for r in range(s.run_of_shape[shape], s.run_of_shape[shape + 1]):
            n = 3 * s.run_length[r]
            rows.append(np.arange(n) + 3 * s.run_start[r])
            columns.append(np.full(n, shape))
            data.append(s.values[s.run_values[r] : s.run_values[r] + n])
    deltas = csr_matrix((np.concatenate(data), (np.concatenate(rows), np.concatenate(columns))), shape=(3 * count, len(s.names)))
    table = evaluator.rig.skinning.influences
    width = table.bones.shape[1]
    weights = csr_matrix(
        (table.weights.ravel(), table.bones.ravel().astype(np.int32), np.arange(count + 1) * width),
        shape=(count, len(evaluator.character.bones) + 1),
    )
    pieces = zip(evaluator.meshes.part_triangles, evaluator.meshes.start, strict=False)
    triangles = np.concatenate([t + s for t, s in pieces]).astype(np.int64)
    return deltas.astype(np.float32), weights, evaluator.meshes.rest, triangles


def _strengths(evaluator: Evaluator, values: dict[str, float]) -> np.ndarray:
    return evaluator.rig.strengths(values).astype(np.float32)


def _numpy_matrices(evaluator: Evaluator, values: dict[str, float]) -> np.ndarray:
    skeleton = evaluator.skeleton
    out = np.empty((len(skeleton.parents), 4, 4))
    plain.pose_bones(out, skeleton.angles(values), skeleton.shifts(values), skeleton.axes, skeleton.pivots, skeleton.parents)
    return out


def _scipy_frame(evaluator: Evaluator, values: dict[str, float]) -> Callable[[], bytes]:
    deltas, weights, rest, triangles = _parts(evaluator)

    def frame() -> bytes:
        matrices = np.concatenate([_numpy_matrices(evaluator, values), np.eye(4)[None]])[:, :3].reshape(-1, 12).astype(np.float32)
        points = rest + (deltas @ _strengths(evaluator, values)).reshape(-1, 3)
        mixed = (weights @ matrices).reshape(-1, 3, 4)
        posed = np.einsum("nij,nj->ni", mixed[..., :3], points) + mixed[..., 3]
        normals = igl.per_vertex_normals(posed.astype(np.float64), triangles)
        return posed.astype(np.float32).tobytes() + normals.astype(np.float32).tobytes()

    return frame


def _igl_frame(evaluator: Evaluator, values: dict[str, float]) -> Callable[[], bytes]:
    deltas, weights, rest, triangles = _parts(evaluator)
    dense = np.asarray(weights.todense(), np.float64)

    def frame() -> bytes:
        matrices = np.concatenate([_numpy_matrices(evaluator, values), np.eye(4)[None]])[:, :3]
        points = (rest + (deltas @ _strengths(evaluator, values)).reshape(-1, 3)).astype(np.float64)
        stacked = np.ascontiguousarray(matrices.transpose(0, 2, 1).reshape(-1, 3))
        posed = igl.lbs_matrix(points, dense) @ stacked
        normals = igl.per_vertex_normals(posed, triangles)
        return posed.astype(np.float32).tobytes() + normals.astype(np.float32).tobytes()

    return frame
