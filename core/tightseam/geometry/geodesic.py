"""Distance along the surface."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.sparse import coo_matrix, csr_matrix
from scipy.sparse.csgraph import dijkstra

from tightseam.geometry.adjacency import edges, unique_pairs
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints


def surface_graph(points: Floats, polygons: Polygons) -> csr_matrix:
    """Edge lengths (N, N) of polygon edges and of both diagonals of each quad.

    With the diagonals a shortest path over vertices is off by at most 8 % on a square grid, 41 % without.
    """
    pairs = [edges(polygons, len(points)).ends]
    quads = polygons.quads
    pairs += [quads[:, [0, 2]], quads[:, [1, 3]]]
    ends = unique_pairs(np.concatenate(pairs), len(points))
    length = np.maximum(np.linalg.norm(points[ends[:, 0]] - points[ends[:, 1]], axis=1), 1e-12)
    return coo_matrix((length, (ends[:, 0], ends[:, 1])), shape=(len(points),) * 2).tocsr()


def edge_lengths(points: Floats, neighbours: csr_matrix) -> csr_matrix:
    """Lengths (K, K) of the edges between points (K, 3) that are `neighbours` (K, K)."""
    pairs = neighbours.tocoo()
    length = np.linalg.norm(points[pairs.row] - points[pairs.col], axis=1)
    return coo_matrix((np.maximum(length, 1e-9), (pairs.row, pairs.col)), shape=pairs.shape).tocsr()


def closed_path(points: Floats, neighbours: csr_matrix, stops: Sequence[int]) -> list[int] | None:
    """The closed way over edges from stop to stop and back to the first, each stretch the shortest that meets none before it; None where
    there is none, or a stop is named twice. Points (N, 3), whose `neighbours` (N, N) share an edge."""
    if len(set(stops)) < len(stops):
        return None
    graph, free = edge_lengths(points, neighbours), np.ones(len(points), bool)
    path: list[int] = []
    for start, end in zip(stops, [*stops[1:], stops[0]], strict=True):
        free[[start, end]] = True
        index = np.flatnonzero(free)
        first, last = np.searchsorted(index, [start, end])
        length, before = dijkstra(graph[index][:, index], indices=first, return_predecessors=True)
        if not np.isfinite(length[last]):
            return None
        stretch = [int(last)]
        while stretch[-1] != first:
            stretch.append(int(before[stretch[-1]]))
        path += index[stretch[:0:-1]].tolist()
        free[path] = False
    return path


def distance_from(graph: csr_matrix, sources: Ints, limit: float = np.inf) -> tuple[Floats, Ints]:
    """Distance (N,) in cm to the nearest source along `graph`, and which source that is (N,), -1 where none is within `limit`.

    One labelled multi-source run of Dijkstra's algorithm.
    """
    sources = np.asarray(sources)
    distance, _, nearest = dijkstra(graph, directed=False, indices=sources, min_only=True, return_predecessors=True, limit=limit)
    return distance, np.where(np.isfinite(distance), nearest, -1)


def fading(graph: csr_matrix, sources: Ints, over: float) -> Floats:
    """1 at the sources, (N,), and down to 0 by smoothstep `over` so many cm along `graph`; with 0 it is the sources alone."""
    found = np.zeros(graph.shape[0])
    if over > 0:
        distance, _ = distance_from(graph, sources, over)
        found = 1 - smoothstep(np.minimum(distance, over) / over)
    found[sources] = 1
    return found
