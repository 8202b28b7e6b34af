"""Closest points, and what is inside."""

from __future__ import annotations

import igl
import numpy as np

from tightseam.geometry.types import Floats, Ints


def closest_points(queries: Floats, points: Floats, triangles: Ints) -> tuple[Floats, Ints, Floats]:
    """Distance (Q,), triangle (Q,) and closest point (Q, 3) on a mesh for each query."""
    squared, face, closest = igl.point_mesh_squared_distance(_f(queries), _f(points), _i(triangles))
    return np.sqrt(squared), np.asarray(face), np.asarray(closest)


def winding(queries: Floats, points: Floats, triangles: Ints) -> Floats:
    """Generalised winding number (Q,) of a mesh that may be open: near 1 inside, near 0 outside (Barill et al. 2018)."""
    return np.asarray(igl.fast_winding_number(_f(points), _i(triangles), _f(queries)))


def barycentric(closest: Floats, corners: Floats) -> Floats:
    """Barycentric weights (Q, 3) of points that lie on triangles with the given `corners` (Q, 3, 3)."""
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    v0, v1, v2 = b - a, c - a, closest - a
    d00, d01, d11 = (v0 * v0).sum(1), (v0 * v1).sum(1), (v1 * v1).sum(1)
    d20, d21 = (v2 * v0).sum(1), (v2 * v1).sum(1)
    denominator = d00 * d11 - d01 * d01
    safe = np.where(np.abs(denominator) > 1e-18, denominator, 1.0)
    v = np.where(np.abs(denominator) > 1e-18, (d11 * d20 - d01 * d21) / safe, 0.0)
    w = np.where(np.abs(denominator) > 1e-18, (d00 * d21 - d01 * d20) / safe, 0.0)
    weights = np.clip(np.stack([1 - v - w, v, w], axis=1), 0, 1)
    return np.asarray(weights / weights.sum(axis=1, keepdims=True))


def stands_on(queries: Floats, points: Floats, triangles: Ints) -> tuple[Ints, Floats]:
    """Where queries stand on a mesh: the corners (Q, 3) of the nearest triangle, and their shares (Q, 3) in its closest point."""
    _, face, closest = closest_points(queries, points, triangles)
    corners = triangles[face]
    return corners, barycentric(closest, points[corners])


def _f(array: Floats) -> Floats:
    return np.ascontiguousarray(array, np.float64)


def _i(array: Ints) -> Ints:
    return np.ascontiguousarray(array, np.int64)


def segment_distance(points: Floats, start: Floats, end: Floats) -> Floats:
    """Distance (N,) of points (N, 3) to the segment from `start` to `end`, cm."""
    return to_segment(points, start, end)[0]


def to_segment(points: Floats, start: Floats, end: Floats) -> tuple[Floats, Floats]:
    """The same, and how far along it the nearest place is, (N,), 0 at its start and 1 at its end."""
    way = end - start
    t = np.clip((points - start) @ way / max(float(way @ way), 1e-12), 0, 1)
    return np.asarray(np.linalg.norm(points - start - t[:, None] * way, axis=1)), np.asarray(t)
