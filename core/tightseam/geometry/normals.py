"""Normals of faces and vertices."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats, Ints


def face_normals(points: Floats, triangles: Ints) -> Floats:
    """Unit normals (T, 3); zero for triangles without area."""
    a, b, c = (points[triangles[:, k]] for k in range(3))
    return unit(np.cross(b - a, c - a))


def vertex_normals(points: Floats, triangles: Ints) -> Floats:
    """Area-weighted unit normals (N, 3)."""
    a, b, c = (points[triangles[:, k]] for k in range(3))
    weighted = np.cross(b - a, c - a)
    total = np.stack([sum(np.bincount(triangles[:, k], weighted[:, axis], len(points)) for k in range(3)) for axis in range(3)], axis=1)
    return unit(total)


def unit(vectors: Floats) -> Floats:
    """Vectors scaled to length one along the last axis; zero stays zero."""
    length = np.linalg.norm(vectors, axis=-1, keepdims=True)
    return np.divide(vectors, length, out=np.zeros_like(vectors, dtype=np.float64), where=length > 1e-14)
