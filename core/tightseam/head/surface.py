"""The skin as the stations see it: its points, how they hang together, and where the landmarks lie on it."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

import numpy as np
from scipy.sparse import csr_matrix
from scipy.spatial import cKDTree

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part
from tightseam.geometry.adjacency import neighbours
from tightseam.geometry.distance import closest_points
from tightseam.geometry.geodesic import surface_graph
from tightseam.geometry.laplacian import laplacian
from tightseam.geometry.loops import LoopWalker
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.types import Floats, Ints


def surface_of(character: Character, store: ArrayStore, part: Part) -> Surface:
    """The surface of a part, with the landmarks of its head."""
    marks = {m.name: np.array(m.point) for m in character.landmarks}
    return Surface(np.asarray(store.get(part.points)), polygons(store, part), marks)


class Surface:
    """A skin in its neutral, (N, 3) cm, with its landmarks (name -> point). What is costly is made once, when first asked for."""

    def __init__(self, points: Floats, polygons: Polygons, landmarks: Mapping[str, Floats]) -> None:
        self.points = points
        self.polygons = polygons
        self.landmarks = landmarks

    @cached_property
    def triangles(self) -> Ints:
        return triangulate(self.points, self.polygons)

    @cached_property
    def graph(self) -> csr_matrix:
        return surface_graph(self.points, self.polygons)

    @cached_property
    def neighbours(self) -> csr_matrix:
        return neighbours(self.polygons, len(self.points))

    @cached_property
    def walker(self) -> LoopWalker:
        return LoopWalker(self.polygons)

    @cached_property
    def laplacian(self) -> tuple[csr_matrix, Floats]:
        return laplacian(self.points, self.triangles)

    @cached_property
    def _tree(self) -> cKDTree:
        return cKDTree(self.points)

    def mark(self, name: str) -> Floats:
        """Where a landmark lies, (3,); BadRequest where it is not placed."""
        if name not in self.landmarks:
            raise BadRequest(f"The landmark “{name}” is not placed yet.")
        return np.asarray(self.landmarks[name], float)

    def vertex(self, name: str) -> int:
        """The vertex nearest to a landmark."""
        return self.nearest_vertex(self.mark(name))

    def nearest_vertex(self, point: Floats) -> int:
        return int(self._tree.query(point)[1])

    def closest(self, points: Floats) -> Floats:
        """The points (K, 3) of the surface nearest to some few points (K, 3): of the triangles that can hold them, not of all."""
        far = self._tree.query(points)[0] + self._longest_edge
        near = np.zeros(len(self.points), bool)
        near[np.concatenate([np.asarray(k, int) for k in self._tree.query_ball_point(points, far)])] = True
        return closest_points(points, self.points, self.triangles[near[self.triangles].any(axis=1)])[2]

    @cached_property
    def _longest_edge(self) -> float:
        corners = self.points[self.triangles]
        return float(np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max())

    def nearest_vertices(self, points: Floats) -> Ints:
        return np.unique(self._tree.query(points)[1])
