"""Edge loops: straight walks over a quad mesh."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Ints


class LoopWalker:
    """Walks edge loops: at a vertex where four edges meet, leave by the edge opposite to the one you came by."""

    def __init__(self, polygons: Polygons) -> None:
        self._neighbours: dict[int, set[int]] = {}
        self._shared: dict[int, list[frozenset[int]]] = {}
        for polygon in polygons.lists():
            for k, vertex in enumerate(polygon):
                before, after = polygon[k - 1], polygon[(k + 1) % len(polygon)]
                self._neighbours.setdefault(vertex, set()).update((before, after))
                self._shared.setdefault(vertex, []).append(frozenset((before, after)))

    def neighbours(self, vertex: int) -> set[int]:
        return self._neighbours.get(vertex, set())

    def opposite(self, came_from: int, at: int) -> int | None:
        """The neighbour of `at` that shares no face with `came_from`; None at a pole or a border."""
        around = self._neighbours[at]
        if len(around) != 4 or len(self._shared[at]) != 4:
            return None
        beside = {v for pair in self._shared[at] if came_from in pair for v in pair}
        rest = around - beside - {came_from}
        return rest.pop() if len(rest) == 1 else None

    def walk(self, start: int, towards: int, limit: int = 10_000) -> list[int]:
        """Vertices from `start` through `towards` until a pole, a border, or `start` again (a closed loop)."""
        path = [start, towards]
        while len(path) < limit:
            following = self.opposite(path[-2], path[-1])
            if following is None or following == start:
                break
            path.append(following)
        return path

    def loop_through(self, start: int, others: list[int]) -> list[int] | None:
        """The closed edge loop from `start` that passes every vertex of `others`, or None."""
        for towards in sorted(self.neighbours(start)):
            path = self.walk(start, towards)
            if len(path) > 3 and self.opposite(path[-2], path[-1]) == start and set(others) <= set(path):
                return path
        return None


class RingStepper:
    """Steps from a closed edge loop over one row of quads to the next loop."""

    def __init__(self, polygons: Polygons, vertex_count: int) -> None:
        self._polygons = polygons
        self._count = vertex_count
        corners = polygons.corners.astype(np.int64)
        key = corners * vertex_count + corners[polygons.next_corner]
        self._order = np.argsort(key, kind="stable")
        self._sorted = key[self._order]

    def step(self, loop: Ints) -> Ints | None:
        """The loop (K,) across the quads on the side where faces run along `loop` (K,), or None where that row is broken.

        Vertex k of the result lies across from vertex k of `loop`. Give the loop the other way round for the other side.
        """
        loop = np.asarray(loop, np.int64)
        key = loop * self._count + np.roll(loop, -1)
        at = np.searchsorted(self._sorted, key)
        if (at >= len(self._sorted)).any() or (self._sorted[np.minimum(at, len(self._sorted) - 1)] != key).any():
            return None
        corner = self._order[at]
        face = self._polygons.face_of_corner[corner]
        if (self._polygons.sizes[face] != 4).any():
            return None
        first = self._polygons.starts[face]
        k = corner - first
        above = self._polygons.corners[first + (k + 3) % 4]  # across from the start of the edge
        beyond = self._polygons.corners[first + (k + 2) % 4]  # across from its end
        return above if (np.roll(above, -1) == beyond).all() else None
