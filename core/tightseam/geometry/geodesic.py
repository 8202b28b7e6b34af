"""Distance along the surface."""

from __future__ import annotations

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
