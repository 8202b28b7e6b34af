"""How deep surfaces lie in one another by design: what the neutral has is no fault of a pose."""

from __future__ import annotations

from hashlib import blake2b

import numpy as np
from scipy.spatial import cKDTree

from tightseam.contact.clash import depth_in_itself
from tightseam.contact.tree import PosedTree
from tightseam.document.derived import DERIVED
from tightseam.geometry.normals import face_normals
from tightseam.geometry.types import Floats, Ints

SLIDE = 0.15  # cm that surfaces may slide along one another
GRID = np.array([(i, j, 4 - i - j) for i in range(5) for j in range(5 - i)]) / 4  # of samples over a triangle


def designed_depth(points: Floats, triangles: Ints, looked: Ints, body: PosedTree, against: PosedTree) -> Floats:
    """For each of the triangles (T, 3) of a mesh in its neutral the deepest place in its neighbourhood (T,), cm, by the samples of those
    that are `looked` (K,) at.

    Surfaces that slide along one another bring a place to where its neighbour lay; that is no deeper overlap.
    """
    digest = blake2b(digest_size=16)
    for array in (points, triangles, looked, against.tree.triangles):
        digest.update(np.ascontiguousarray(array).data)
    return DERIVED.get(("design", digest.digest()), lambda: _designed_depth(points, triangles, looked, body, against))


def _designed_depth(points: Floats, triangles: Ints, looked: Ints, body: PosedTree, against: PosedTree) -> Floats:
    designed = np.zeros(len(triangles))
    if not len(looked):
        return designed
    ways = face_normals(points, triangles[looked])
    samples = np.einsum("sk,tkc->tsc", GRID, points[triangles[looked]]).reshape(-1, 3)
    depth = depth_in_itself(body, against, samples, np.repeat(ways, len(GRID), axis=0))
    deep = np.flatnonzero(depth > 0)
    if not len(deep):
        return designed
    corners = points[triangles]
    middles = corners.mean(axis=1)
    reach = SLIDE + np.linalg.norm(corners - middles[:, None], axis=2).max(axis=1)
    near = cKDTree(samples[deep]).query_ball_point(middles, reach)
    return np.array([depth[deep[k]].max() if k else 0.0 for k in near])
