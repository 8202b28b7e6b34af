"""What light needs to know of a head, as msgpack: baked once for as long as its meshes stay."""

from typing import Any

import msgpack
import numpy as np
from scipy.sparse import csr_matrix
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import part as find_part
from tightseam.document.sections import keys_of
from tightseam.geometry.normals import unit
from tightseam.geometry.types import Floats
from tightseam.shading.baked import PartShading, baked
from tightseam.shading.iris import PaintedEye

from bench.rigs import Rig, subdivided


def shading(rig: Rig) -> bytes:
    """Per part and vertex, for the true mesh and its subdivision: open sky, thinness and the way of strands, in bytes; how eyes are
    painted; and where three vertices of a part that is carried stiffly stand at rest."""
    key = "shading", keys_of(rig.document, ("parts",))
    return DERIVED.get(key, lambda: msgpack.packb(_all(rig)))


def _all(rig: Rig) -> dict[str, Any]:
    found = baked(rig.document, rig.store)
    return {
        "parts": {p.name: _part(rig, p.name, np.asarray(rig.store.get(p.points), np.float64), found[p.name]) for p in rig.document.parts}
    }


def _part(rig: Rig, name: str, rest: np.ndarray, found: PartShading) -> dict[str, Any]:
    matrix, _ = subdivided(rig.store, find_part(rig.document, name))
    finer = matrix @ rest
    answer = {"own": _surface(found, rest), "smooth": _surface(found, finer, matrix)}
    if found.eye is not None or found.strands is not None:
        rows = _far_apart(rest)
        answer["anchors"] = {"vertices": rows.tolist(), "own": rest[rows].ravel().tolist(), "smooth": finer[rows].ravel().tolist()}
    if found.eye is not None:
        answer["eye"] = _eye(found.eye)
    if found.lids is not None:
        answer["lids"] = np.concatenate(found.lids).tolist()
    return answer


def _surface(found: PartShading, rest: np.ndarray, matrix: csr_matrix | None = None) -> dict[str, Any]:
    """Values of the vertices of a surface, mixed by a matrix where it is the finer one; of the skin also where they rest, cm: pores
    stay with it."""

    def finer(values: Floats) -> Floats:
        return values if matrix is None else np.asarray(matrix @ values)

    answer = {"sky": _share(finer(found.sky))}
    if found.thin is not None:
        answer["thin"] = _share(finer(found.thin))
        answer["rest"] = np.ascontiguousarray(rest, np.float32).tobytes()
    if found.strands is not None:
        answer["strands"] = np.round(unit(finer(found.strands)) * 127).astype(np.int8).tobytes()
    return answer


def _eye(eye: PaintedEye) -> dict[str, Any]:
    return {
        "centre": eye.centre.tolist(),
        "radius": eye.radius,
        "gaze": eye.gaze.tolist(),
        "pupil": float(eye.pupil),
        "iris": float(eye.iris),
        "colours": np.ascontiguousarray(eye.colours, np.float32).tobytes(),
    }


def _share(values: np.ndarray) -> bytes:
    return np.round(np.clip(values, 0, 1) * 255).astype(np.uint8).tobytes()


def _far_apart(points: np.ndarray) -> np.ndarray:
    """Rows (3,) of vertices of which none lies near the line through the others."""
    first = int(np.linalg.norm(points - points.mean(axis=0), axis=1).argmax())
    second = int(np.linalg.norm(points - points[first], axis=1).argmax())
    along = unit(points[second] - points[first])
    aside = (points - points[first]) - ((points - points[first]) @ along)[:, None] * along
    return np.array([first, second, int(np.linalg.norm(aside, axis=1).argmax())])
