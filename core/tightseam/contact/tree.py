"""Trees over the triangles of a mesh: built once, refitted for each pose."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.contact.compiled import loops
from tightseam.geometry.adjacency import directed_edges
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Bools, Floats, Ints

Marks = tuple[Ints, Ints]  # of triangles and nodes: which of two sides they have vertices of


class TriangleTree:
    """A tree over triangles (T, 3) of a mesh, halved where its points (N, 3) stand when it is made."""

    def __init__(self, points: Floats, triangles: Ints) -> None:
        self.triangles = read_only(triangles, np.int64)
        centres = np.asarray(points, np.float64)[self.triangles].mean(axis=1)
        order = np.arange(len(self.triangles), dtype=np.int64)
        second, first, last = (np.empty(2 * len(self.triangles) + 1, np.int64) for _ in range(3))
        count = loops("tree").build(centres, order, second, first, last)
        self.order, self.second, self.first, self.last = (read_only(x) for x in (order, second[:count], first[:count], last[:count]))
        self.closed = _is_closed(self.triangles)
        self.every: Marks = read_only(np.full(len(self.triangles), 3, np.uint8)), read_only(np.full(count, 3, np.uint8))

    def at(self, points: Floats) -> PosedTree:
        """The tree with the mesh posed at points (N, 3)."""
        points = read_only(points, np.float64)
        boxes, far = np.empty((len(self.second), 6)), np.empty((len(self.second), 7))
        loops("tree").refit(points, self.triangles, self.order, self.second, self.first, self.last, boxes, far)
        return PosedTree(self, points, read_only(boxes), read_only(far))


@dataclass(frozen=True)
class PosedTree:
    """A tree in one pose; it can be asked by several callers at once."""

    tree: TriangleTree
    points: Floats
    boxes: Floats
    far: Floats

    @property
    def nodes(self) -> tuple[Floats, Ints, Ints, Ints, Ints, Ints]:
        return self.points, self.tree.triangles, self.tree.order, self.tree.second, self.tree.first, self.tree.last

    def closest(self, queries: Floats, within: float = np.inf) -> tuple[Floats, Ints, Floats]:
        """Distance (Q,), triangle (Q,) and closest point (Q, 3) for each query; `within` cm, -1 and the query itself where nothing is
        nearer than that."""
        queries = read_only(queries, np.float64)
        distance, rows, shares = np.empty(len(queries)), np.empty(len(queries), np.int64), np.empty((len(queries), 2))
        loops("tree").closest(queries, within, *self.nodes, self.boxes, distance, rows, shares)
        corners = self.points[self.tree.triangles[rows]]
        v, w = shares[:, :1], shares[:, 1:]
        places = (1 - v - w) * corners[:, 0] + v * corners[:, 1] + w * corners[:, 2]
        return distance, rows, np.where((rows < 0)[:, None], queries, places)

    def winding(self, queries: Floats) -> Floats:
        """Generalised winding number (Q,): near 1 inside, near 0 outside; within 0.02 of the exact one."""
        queries = read_only(queries, np.float64)
        found = np.empty(len(queries))
        loops("tree").windings(queries, *self.nodes, self.far, found)
        return found

    def inside(self, queries: Floats) -> Bools:
        """Which queries (Q,) the mesh winds round, islands that overlap and all."""
        queries = read_only(queries, np.float64)
        found = np.empty(len(queries), np.bool_)
        loops("tree").insides(queries, self.tree.closed, *self.nodes, self.boxes, self.far, found)
        return found

    def signed(self, queries: Floats, reach: float) -> Floats:
        """Distance (Q,) to a closed mesh, negative inside, at most `reach` cm: to its nearest triangle, with the sign of the winding
        number (Jacobson et al. 2013), which islands that overlap do not upset."""
        queries = read_only(queries, np.float64)
        found = self.closest(queries, reach)[0]
        low, high = self.boxes[0, :3], self.boxes[0, 3:]
        within = np.flatnonzero(((queries >= low) & (queries <= high)).all(axis=1))
        inside = within[self.inside(queries[within])]
        found[inside] = -self.closest(queries[inside])[0]
        return found


def _is_closed(triangles: Ints) -> bool:
    """Does every edge have as many triangles that run along it one way as the other?"""
    ends = directed_edges(triangles)
    low, high = ends.min(axis=1), ends.max(axis=1)
    edge = np.unique(low * (int(triangles.max()) + 1) + high, return_inverse=True)[1]
    return not np.bincount(edge, np.where(ends[:, 0] == low, 1, -1)).any()
