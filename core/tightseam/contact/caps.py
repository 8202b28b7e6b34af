"""Holes of a surface closed, so that a ray tells its inside."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from tightseam.contact.tree import PosedTree, TriangleTree
from tightseam.geometry.adjacency import border_edges
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Closed:
    """A tree over a mesh and a fan over each of its holes, from the middle of the hole; `rims` (R, 2) are vertices and their hole."""

    tree: TriangleTree
    rims: Ints
    holes: int

    def at(self, points: Floats) -> PosedTree:
        """The closed mesh posed at points (N, 3)."""
        return self.tree.at(_with_middles(points, self.rims, self.holes))


def closed(points: Floats, triangles: Ints) -> Closed:
    """A mesh of points (N, 3) and triangles (T, 3) with its holes closed."""
    count = len(points)
    alone = border_edges(triangles)
    rim = np.unique(alone)
    at = np.searchsorted(rim, alone)
    joined = csr_matrix((np.ones(len(at)), (at[:, 0], at[:, 1])), shape=(len(rim), len(rim)))
    holes, hole = connected_components(joined, directed=False)
    fans = np.stack([alone[:, 1], alone[:, 0], count + hole[at[:, 0]]], axis=1)
    rims = np.stack([rim, hole], axis=1)
    every = np.concatenate([np.asarray(triangles, np.int64), fans.astype(np.int64)])
    return Closed(TriangleTree(_with_middles(points, rims, holes), every), rims, holes)


def _with_middles(points: Floats, rims: Ints, holes: int) -> Floats:
    """Points (N + H, 3), the middles of the holes' rims behind."""
    sums = np.zeros((holes, 3))
    np.add.at(sums, rims[:, 1], points[rims[:, 0]])
    return np.concatenate([points, sums / np.maximum(np.bincount(rims[:, 1], minlength=holes), 1)[:, None]])
