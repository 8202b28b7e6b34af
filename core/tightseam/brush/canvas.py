"""What a brush needs to know of a part, whatever it paints and in whatever pose."""

from __future__ import annotations

from functools import cached_property

import numpy as np
from scipy.sparse import csr_matrix, diags

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part
from tightseam.geometry.laplacian import laplacian
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.reach import Fans, Reach, fans
from tightseam.geometry.symmetry import SYMMETRIC, Plane, symmetry_map
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.types import Floats, Ints
from tightseam.head.found import plane_of


class Canvas:
    """A part in its neutral, `points` (N, 3) cm, and the plane between left and right. What is costly is made once, when asked for."""

    def __init__(self, points: Floats, polygons: Polygons, plane: Plane) -> None:
        self.points = points
        self.polygons = polygons
        self.plane = plane

    @cached_property
    def fans(self) -> Fans:
        return fans(triangulate(self.points, self.polygons), len(self.points))

    def reach(self) -> Reach:
        """Distances from one place after another, with buffers for one caller."""
        return Reach(self.fans)

    @cached_property
    def partners(self) -> Ints:
        """The vertex on the other side of each, (N,), -1 where there is none."""
        return symmetry_map(self.points, self.polygons, self.plane, SYMMETRIC)

    @cached_property
    def laplacian(self) -> csr_matrix:
        """Cotangent Laplacian (N, N) of the neutral, by its intrinsic Delaunay triangulation."""
        return laplacian(self.points, self.fans.triangles)[0]

    @cached_property
    def average(self) -> csr_matrix:
        """What averages the neighbours of each vertex, (N, N), rows summing to 1, by cotangents."""
        return averaging(self.laplacian)

    def mirrored(self, vertices: Ints, amount: Floats) -> tuple[Ints, Floats]:
        """The mirror images of vertices (K,), sorted, as far as there are any, with the amounts (K,) of theirs."""
        image = self.partners[vertices]
        known = image >= 0
        order = np.argsort(image[known])
        return image[known][order], amount[known][order]

    def normals(self, points: Floats, vertices: Ints) -> Floats:
        """Normals (K, 3) of some vertices of the posed part, by the areas of the triangles round them; not of length one."""
        first, count = self.fans.start[vertices], np.diff(self.fans.start)[vertices]
        owner = np.repeat(np.arange(len(vertices)), count)
        at = np.arange(len(owner)) - np.repeat(np.cumsum(count) - count, count) + first[owner]
        corners = points[self.fans.triangles[self.fans.order[at]]]
        across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        return np.stack([np.bincount(owner, across[:, k], len(vertices)) for k in range(3)], axis=1)


def canvas_of(character: Character, store: ArrayStore, part: Part) -> Canvas:
    """The canvas of a part, with the plane that its head is symmetric about."""
    plane = plane_of(character, store)
    key = ("canvas", part.points, part.sizes, part.corners, plane.point.tobytes(), plane.normal.tobytes())
    return DERIVED.get(key, lambda: Canvas(np.asarray(store.get(part.points)), polygons(store, part), plane))


def averaging(matrix: csr_matrix) -> csr_matrix:
    """What averages the neighbours of each vertex (N, N) from a cotangent Laplacian; a vertex with none round it keeps its own value."""
    entries = matrix.tocoo()
    others = entries.row != entries.col
    values = np.maximum(-entries.data[others], 0)  # never negative on the intrinsic Delaunay triangulation, but for rounding
    pull = csr_matrix((values, (entries.row[others], entries.col[others])), shape=matrix.shape)
    total = np.asarray(pull.sum(axis=1)).ravel()
    lonely = total <= 0
    return csr_matrix(diags(1 / np.where(lonely, 1, total)) @ pull + diags(lonely.astype(float)))
