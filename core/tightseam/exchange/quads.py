"""Quads that an exporter cut into triangles, put together again."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints

CONVEX = np.cos(np.radians(88))  # of a corner against the quad as a whole: below, it is folded
PAIRED = 0.6  # share of the triangles that must pair up well, else the mesh is taken for one of triangles
LEAST = 0.01  # what a folded pair is worth: less than any sound one, more than two triangles


def recover_quads(points: Floats, triangles: Ints) -> Polygons:
    """Polygons from triangles (T, 3): neighbours in the list that share an edge become a quad.

    Exporters write the two halves of a quad one after the other. Of all ways to pair neighbours in the list the one is taken
    whose quads are soundest in sum, so that a folded quad does not throw off all that follow. Where few triangles pair up, the
    mesh is one of triangles and stays so. Triangles that lost their area by welding are dropped.
    """
    real = (triangles[:, 0] != triangles[:, 1]) & (triangles[:, 1] != triangles[:, 2]) & (triangles[:, 2] != triangles[:, 0])
    triangles = triangles[real]
    worth, quads = _pairs(points, triangles)
    first = _best_pairing(worth)
    if not len(triangles) or 2 * (worth[first] > LEAST).sum() < PAIRED * len(triangles):
        return Polygons(np.full(len(triangles), 3, np.int32), triangles.ravel().astype(np.int32))
    joined = np.zeros(len(triangles) + 1, bool)
    joined[first] = True
    second = np.roll(joined, 1)
    return Polygons.from_lists([quads[k].tolist() if joined[k] else triangles[k].tolist() for k in np.flatnonzero(~second[:-1])])


def _pairs(points: Floats, triangles: Ints) -> tuple[Floats, Ints]:
    """For each triangle (T,) what a quad with the next one is worth, 0 where they share no edge; and that quad (T, 4)."""
    count = len(triangles)
    worth = np.zeros(count)
    quads = np.zeros((count, 4), np.int64)
    a, b = triangles[:-1], triangles[1:]
    for i in range(3):
        for j in range(3):
            # edge i of the first is edge j of the second, the other way round
            here = np.flatnonzero((a[:, i] == b[:, (j + 1) % 3]) & (a[:, (i + 1) % 3] == b[:, j]))
            quad = np.stack([a[here, (i + 1) % 3], a[here, (i + 2) % 3], a[here, i], b[here, (j + 2) % 3]], axis=1)
            sound = _soundness(points[quad])
            better = sound > worth[here]
            quads[here[better]], worth[here[better]] = quad[better], sound[better]
    return worth, quads


def _best_pairing(worth: Floats) -> Ints:
    """First triangles of the pairs (k, k + 1), none in two of them, that are worth most in sum."""
    before, best = 0.0, 0.0
    taken = []
    for w in worth.tolist():  # `best` is for the triangles up to this one, `before` for those up to the one before
        taken.append(w > 0 and before + w > best)
        before, best = best, max(best, before + w)
    pairs = []
    k = len(taken) - 1
    while k >= 0:
        if taken[k]:
            pairs.append(k)
        k -= 2 if taken[k] else 1
    return np.array(pairs[::-1], np.int64)


def _soundness(corners: Floats) -> Floats:
    """How flat and convex quads (K, 4, 3) are: 1 for a rectangle, LEAST for one that is folded."""
    if not len(corners):
        return np.zeros(0)
    normals = np.stack(
        [unit(np.cross(corners[:, (k + 1) % 4] - corners[:, k], corners[:, k - 1] - corners[:, k])) for k in range(4)], axis=1
    )
    worst = (normals @ unit(normals.sum(axis=1))[:, :, None])[..., 0].min(axis=1)
    return np.where(worst > CONVEX, worst, LEAST)
