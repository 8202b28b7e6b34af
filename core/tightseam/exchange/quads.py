"""Quads that an exporter cut into triangles, put together again."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Bools, Floats, Ints

MOST_FOLD = np.cos(np.radians(88))  # of a corner against the quad as a whole
PAIRED = 0.6  # share of the triangles that must pair up, else the mesh is taken for one of triangles


def recover_quads(points: Floats, triangles: Ints) -> Polygons:
    """Polygons from triangles (T, 3): neighbours in the list that share an edge become a quad.

    Exporters write the two halves of a quad one after the other. Where most triangles pair up so that the quad is convex and
    not folded, the pairs are taken; else all stay triangles. Triangles that lost their area by welding are dropped.
    """
    real = (triangles[:, 0] != triangles[:, 1]) & (triangles[:, 1] != triangles[:, 2]) & (triangles[:, 2] != triangles[:, 0])
    triangles = triangles[real]
    joined, quads = _pairs(points, triangles)
    if not len(triangles) or 2 * joined.sum() < PAIRED * len(triangles):
        return Polygons(np.full(len(triangles), 3, np.int32), triangles.ravel().astype(np.int32))
    second = np.concatenate([[False], joined[:-1]])
    rows = [quads[k].tolist() if joined[k] else triangles[k].tolist() for k in np.flatnonzero(~second)]
    return Polygons.from_lists(rows)


def _pairs(points: Floats, triangles: Ints) -> tuple[Bools, Ints]:
    """Per triangle: does it make a quad with the next one; and that quad."""
    count = len(triangles)
    fits = np.zeros(count, bool)
    quads = np.zeros((count, 4), np.int64)
    if count < 2:
        return fits, quads
    a, b = triangles[:-1], triangles[1:]
    for i in range(3):
        for j in range(3):
            # edge i of the first is edge j of the second, the other way round
            same = (a[:, i] == b[:, (j + 1) % 3]) & (a[:, (i + 1) % 3] == b[:, j])
            here = np.flatnonzero(same & ~fits[:-1])
            quad = np.stack([a[here, (i + 1) % 3], a[here, (i + 2) % 3], a[here, i], b[here, (j + 2) % 3]], axis=1)
            good = _good(points[quad])
            quads[here[good]] = quad[good]
            fits[here[good]] = True
    joined = np.zeros(count, bool)
    k = 0
    while k < count - 1:  # each triangle belongs to one quad
        joined[k] = fits[k]
        k += 2 if fits[k] else 1
    return joined, quads


def _good(corners: Floats) -> Bools:
    """Convex and not folded, for quads (K, 4, 3)."""
    if not len(corners):
        return np.zeros(0, bool)
    normals = np.stack(
        [unit(np.cross(corners[:, (k + 1) % 4] - corners[:, k], corners[:, k - 1] - corners[:, k])) for k in range(4)], axis=1
    )
    return np.asarray((normals @ unit(normals.sum(axis=1))[:, :, None])[..., 0].min(axis=1) > MOST_FOLD)
