"""Triangles from polygons, the same way everywhere and on both sides of the face."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Bools, Floats, Ints

TIE = 1e-6


def triangulate(points: Floats, polygons: Polygons) -> Ints:
    """Triangles (T, 3), int32, in the order of the polygons they come from.

    Quads are split along the shorter diagonal. A tie goes to the diagonal through the corner nearest to the middle
    plane, then the lowest, then the rearmost, which a mirror image shares: a fan split would weigh a symmetric head
    asymmetrically.
    Larger polygons are fanned from their first corner. `points` is (N, 3).
    """
    triangles, _ = triangulate_with_faces(points, polygons)
    return triangles


def triangulate_with_faces(points: Floats, polygons: Polygons) -> tuple[Ints, Ints]:
    """As `triangulate`, with the polygon each triangle came from, (T,)."""
    starts, sizes, corners = polygons.starts, polygons.sizes, polygons.corners
    rows: list[Ints] = []
    faces: list[Ints] = []
    three = np.flatnonzero(sizes == 3)
    rows.append(corners[starts[three][:, None] + np.arange(3)])
    faces.append(three)
    four = np.flatnonzero(sizes == 4)
    quad = polygons.quads
    along_ac = _split_along_ac(points, quad)
    first = np.where(along_ac[:, None], quad[:, [0, 1, 2]], quad[:, [0, 1, 3]])
    second = np.where(along_ac[:, None], quad[:, [0, 2, 3]], quad[:, [1, 2, 3]])
    rows += [first, second]
    faces += [four, four]
    for f in np.flatnonzero(sizes > 4):
        p = corners[starts[f] : starts[f] + sizes[f]]
        rows.append(np.stack([np.full(len(p) - 2, p[0]), p[1:-1], p[2:]], axis=1))
        faces.append(np.full(len(p) - 2, f))
    face = np.concatenate(faces)
    order = np.argsort(face, kind="stable")
    return np.concatenate(rows)[order].astype(np.int32), face[order]


def _split_along_ac(points: Floats, quad: Ints) -> Bools:
    p = points[quad]
    ac = np.linalg.norm(p[:, 0] - p[:, 2], axis=1)
    bd = np.linalg.norm(p[:, 1] - p[:, 3], axis=1)
    shorter = ac < bd
    undecided = np.abs(ac - bd) <= TIE * np.maximum(ac, bd)
    shared = np.round(np.stack([np.abs(p[..., 0]), p[..., 1], p[..., 2]], axis=-1) / TIE)
    first = np.zeros(len(quad), np.int64)
    for k in range(1, 4):
        first = np.where(_before(shared[:, k], shared[np.arange(len(quad)), first]), k, first)
    return np.where(undecided, first % 2 == 0, shorter)


def _before(a: Floats, b: Floats) -> Bools:
    """Row-wise lexicographic a < b for (Q, 3)."""
    return (a[:, 0] < b[:, 0]) | ((a[:, 0] == b[:, 0]) & ((a[:, 1] < b[:, 1]) | ((a[:, 1] == b[:, 1]) & (a[:, 2] < b[:, 2]))))
