"""A mesh and what follows from it, each made once."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, wraps
from typing import Any, TypeVar

import numpy as np
from scipy.sparse import csr_matrix, diags
from scipy.spatial import cKDTree

from tightseam.geometry.adjacency import Edges, edges, islands, neighbours
from tightseam.geometry.geodesic import surface_graph
from tightseam.geometry.intrinsic import Intrinsic, intrinsic_delaunay
from tightseam.geometry.laplacian import laplacian
from tightseam.geometry.loops import LoopWalker
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.reach import Fans, fans
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.types import Floats, Ints

T = TypeVar("T")
MOST_BYTES = 850  # of what is made from a vertex, when all of it is


def _made_once(make: Callable[[SurfaceMesh], T]) -> cached_property[T]:
    """A cached property whose arrays nobody can change: they are everybody's."""

    @wraps(make)
    def made(mesh: SurfaceMesh) -> T:
        found = make(mesh)
        things: tuple[Any, ...] = found if isinstance(found, tuple) else (found,)
        for thing in things:
            for array in (thing.data, thing.indices, thing.indptr) if isinstance(thing, csr_matrix) else (thing,):
                array.setflags(write=False)
        return found

    return cached_property(made)


class SurfaceMesh:
    """Points (N, 3), cm, and the polygons between them. Neither is ever changed, nor is what is made from them when first asked for."""

    def __init__(self, points: Floats, polygons: Polygons) -> None:
        self.points = points
        self.polygons = polygons

    def __len__(self) -> int:
        return len(self.points)

    def __sizeof__(self) -> int:
        """What all that may be made of it takes: a cache that is bounded by bytes weighs it once."""
        return MOST_BYTES * len(self)

    @_made_once
    def triangles(self) -> Ints:
        """(T, 3), each polygon split by itself."""
        return triangulate(self.points, self.polygons)

    @cached_property
    def edges(self) -> Edges:
        return edges(self.polygons, len(self))

    @_made_once
    def neighbours(self) -> csr_matrix:
        """The one-ring of each vertex, (N, N), 1 where an edge joins two."""
        return neighbours(self.polygons, len(self))

    @_made_once
    def islands(self) -> Ints:
        """The number of the island each vertex belongs to, (N,)."""
        return islands(self.polygons, len(self))

    @cached_property
    def fans(self) -> Fans:
        """The triangles round each vertex."""
        return fans(self.triangles, len(self))

    @cached_property
    def intrinsic(self) -> Intrinsic:
        """The same surface whichever way its polygons are cut."""
        return intrinsic_delaunay(self.points, self.triangles)

    @_made_once
    def laplacian(self) -> tuple[csr_matrix, Floats]:
        """Cotangent Laplacian (N, N) by the intrinsic Delaunay triangulation, and the mass (N,) of each vertex, cm²."""
        return laplacian(self.points, self.triangles, self.intrinsic)

    @_made_once
    def average(self) -> csr_matrix:
        """What averages the neighbours of each vertex, (N, N), rows summing to 1, by cotangents; a vertex with none round it keeps its own
        value."""
        return _averaging(self.laplacian[0])

    @_made_once
    def graph(self) -> csr_matrix:
        """Lengths (N, N), cm, that paths over the surface are made of."""
        return surface_graph(self.points, self.polygons)

    @cached_property
    def walker(self) -> LoopWalker:
        return LoopWalker(self.polygons)

    @cached_property
    def tree(self) -> cKDTree:
        """Finds the vertices near a place."""
        return cKDTree(self.points)

    @cached_property
    def longest_edge(self) -> float:
        """Of the triangles, cm."""
        corners = self.points[self.triangles]
        return float(np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max())


def _averaging(matrix: csr_matrix) -> csr_matrix:
    entries = matrix.tocoo()
    others = entries.row != entries.col
    values = np.maximum(-entries.data[others], 0)  # never negative on the intrinsic Delaunay triangulation, but for rounding
    pull = csr_matrix((values, (entries.row[others], entries.col[others])), shape=matrix.shape)
    total = np.asarray(pull.sum(axis=1)).ravel()
    lonely = total <= 0
    return csr_matrix(diags(1 / np.where(lonely, 1, total)) @ pull + diags(lonely.astype(float)))
