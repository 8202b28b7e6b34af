"""Where a surface was cut and its borders lie on one another: poses that carry the two sides apart open it."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from tightseam.geometry.adjacency import border_edges, directed_edges
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Floats, Ints

TOUCHING = 0.02  # cm from one border to another up to which they are two sides of one cut,
SAME = 0.5  # and of the shortest edge there


class Cuts:
    """The cuts of a mesh, as pairs (P, 2) of vertices of borders that meet in the neutral."""

    def __init__(self, mesh: SurfaceMesh) -> None:
        rim = np.unique(border_edges(mesh.triangles))
        found = cKDTree(mesh.points[rim]).query_pairs(TOUCHING, output_type="ndarray") if len(rim) else np.zeros((0, 2), int)
        pairs = rim[found].reshape(-1, 2)
        ends = directed_edges(mesh.triangles)
        shortest = np.full(len(mesh), np.inf)
        np.minimum.at(shortest, ends.ravel(), np.repeat(self._distance(mesh.points, ends), 2))
        near = self._distance(mesh.points, pairs) < SAME * shortest[pairs].min(axis=1)
        self.pairs: Ints = pairs[near]
        self._rest = self._distance(mesh.points, self.pairs)

    def open(self, posed: Floats, rows: Ints | None = None) -> Floats:
        """How much farther the vertices of pairs (K,), or of all, are from one another than in the neutral, cm."""
        rows = np.arange(len(self.pairs)) if rows is None else rows
        return self._distance(posed, self.pairs[rows]) - self._rest[rows]

    @staticmethod
    def _distance(points: Floats, pairs: Ints) -> Floats:
        return np.asarray(np.linalg.norm(points[pairs[:, 0]] - points[pairs[:, 1]], axis=1))
