"""The skin as the stations see it: its points, how they hang together, and where the landmarks lie on it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from scipy.sparse import csr_matrix

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character, Part
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.distance import closest_points
from tightseam.geometry.loops import LoopWalker
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Floats, Ints


def surface_of(character: Character, store: ArrayStore, part: Part) -> Surface:
    """The surface of a part, with the landmarks of its head."""
    marks = {m.name: np.array(m.point) for m in character.landmarks}
    return Surface(part_mesh(store, part), marks)


class Surface:
    """The mesh of a skin in its neutral, with its landmarks (name -> point, cm)."""

    def __init__(self, mesh: SurfaceMesh, landmarks: Mapping[str, Floats]) -> None:
        self.mesh = mesh
        self.landmarks = landmarks

    @property
    def points(self) -> Floats:
        return self.mesh.points

    @property
    def polygons(self) -> Polygons:
        return self.mesh.polygons

    @property
    def triangles(self) -> Ints:
        return self.mesh.triangles

    @property
    def graph(self) -> csr_matrix:
        return self.mesh.graph

    @property
    def neighbours(self) -> csr_matrix:
        return self.mesh.neighbours

    @property
    def walker(self) -> LoopWalker:
        return self.mesh.walker

    @property
    def laplacian(self) -> tuple[csr_matrix, Floats]:
        return self.mesh.laplacian

    def mark(self, name: str) -> Floats:
        """Where a landmark lies, (3,); BadRequest where it is not placed."""
        if name not in self.landmarks:
            raise BadRequest(f"The landmark “{name}” is not placed yet.")
        return np.asarray(self.landmarks[name], float)

    def vertex(self, name: str) -> int:
        """The vertex nearest to a landmark."""
        return self.nearest_vertex(self.mark(name))

    def nearest_vertex(self, point: Floats) -> int:
        return int(self.mesh.tree.query(point)[1])

    def closest(self, points: Floats) -> Floats:
        """The points (K, 3) of the surface nearest to some few points (K, 3): of the triangles that can hold them, not of all."""
        far = self.mesh.tree.query(points)[0] + self.mesh.longest_edge
        near = np.zeros(len(self.points), bool)
        near[np.concatenate([np.asarray(k, int) for k in self.mesh.tree.query_ball_point(points, far)])] = True
        return closest_points(points, self.points, self.triangles[near[self.triangles].any(axis=1)])[2]

    def nearest_vertices(self, points: Floats) -> Ints:
        return np.unique(self.mesh.tree.query(points)[1])
