"""Who is next to whom: edges, one-rings, islands, boundaries."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Bools, Ints


@dataclass(frozen=True)
class Edges:
    """Undirected edges: `ends` (E, 2) sorted per row, `of_corner` (C,) the edge that leaves each corner, `uses` (E,) faces at each."""

    ends: Ints
    of_corner: Ints
    uses: Ints


def directed_edges(triangles: Ints) -> Ints:
    """The edges (3 T, 2) of triangles (T, 3), each along its triangle's way round."""
    return np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]).astype(np.int64)


def border_edges(triangles: Ints) -> Ints:
    """Those of the directed edges (B, 2) that no triangle runs along the other way."""
    ends = directed_edges(triangles)
    count = int(triangles.max(initial=-1)) + 1
    return np.asarray(ends[~np.isin(ends[:, 0] * count + ends[:, 1], ends[:, 1] * count + ends[:, 0])])


def unique_pairs(pairs: Ints, vertex_count: int) -> Ints:
    """Pairs (K, 2) of vertices without those that come again, whichever way round; sorted, the lower one first."""
    pairs = pairs.astype(np.int64)
    key = np.unique(pairs.min(axis=1) * vertex_count + pairs.max(axis=1))
    return np.stack([key // vertex_count, key % vertex_count], axis=1)


def edges(polygons: Polygons, vertex_count: int) -> Edges:
    a = polygons.corners.astype(np.int64)
    b = a[polygons.next_corner]
    key = np.minimum(a, b) * vertex_count + np.maximum(a, b)
    unique, inverse, uses = np.unique(key, return_inverse=True, return_counts=True)
    ends = np.stack([unique // vertex_count, unique % vertex_count], axis=1)
    return Edges(ends, inverse.reshape(-1), uses)


def neighbours(polygons: Polygons, vertex_count: int) -> csr_matrix:
    """Symmetric 0/1 matrix (N, N) of vertices joined by an edge; row v of its indices is the one-ring of v."""
    ends = edges(polygons, vertex_count).ends
    both = np.concatenate([ends, ends[:, ::-1]])
    return csr_matrix((np.ones(len(both)), (both[:, 0], both[:, 1])), shape=(vertex_count, vertex_count))


def islands(polygons: Polygons, vertex_count: int) -> Ints:
    """Island number of each vertex, (N,)."""
    return np.asarray(connected_components(neighbours(polygons, vertex_count), directed=False)[1])


def boundary(polygons: Polygons, vertex_count: int) -> Bools:
    """True for each vertex on an edge that only one polygon uses, (N,)."""
    found = edges(polygons, vertex_count)
    mask = np.zeros(vertex_count, bool)
    mask[found.ends[found.uses == 1].ravel()] = True
    return mask


def is_closed(polygons: Polygons, vertex_count: int) -> bool:
    """Does the surface enclose what is inside it: every edge used by two polygons?"""
    return bool((edges(polygons, vertex_count).uses == 2).all())


def valence(polygons: Polygons, vertex_count: int) -> Ints:
    """Number of edges that meet at each vertex, (N,)."""
    return np.bincount(edges(polygons, vertex_count).ends.ravel(), minlength=vertex_count)
