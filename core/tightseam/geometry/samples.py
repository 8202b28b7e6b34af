"""Points spread over a surface, as fixed mixtures of vertices."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix

from tightseam.geometry.adjacency import directed_edges, unique_pairs
from tightseam.geometry.types import Floats, Ints


def surface_samples(triangles: Ints, vertex_count: int) -> tuple[csr_matrix, Ints]:
    """Matrix (S, N) that gives vertices, edge middles and face centres of `triangles`, and the vertices (S, 3) each is mixed from.

    A contact between two vertices is seen half way along each edge and in the middle of each face.
    """
    owners, share = mixtures(triangles, vertex_count)
    rows = np.repeat(np.arange(len(owners)), 3)
    matrix = csr_matrix((share.ravel(), (rows, owners.ravel())), shape=(len(owners), vertex_count))
    matrix.eliminate_zeros()
    return matrix, owners


def mixtures(triangles: Ints, vertex_count: int) -> tuple[Ints, Floats]:
    """The same samples by the vertices (S, 3) each is mixed from, and their shares (S, 3)."""
    used = np.unique(triangles)
    ends = unique_pairs(directed_edges(triangles), vertex_count)
    owners = np.concatenate([np.stack([used] * 3, axis=1), ends[:, [0, 1, 1]], np.asarray(triangles)])
    share = np.concatenate(
        [np.tile([1.0, 0, 0], (len(used), 1)), np.tile([0.5, 0.5, 0], (len(ends), 1)), np.full((len(triangles), 3), 1 / 3)]
    )
    return owners, share
