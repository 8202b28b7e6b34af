"""Edge loops: straight walks over a quad mesh."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Ints


class LoopWalker:
    """Walks edge loops: at a vertex where four edges meet, leave by the edge opposite to the one you came by."""

    def __init__(self, polygons: Polygons) -> None:
        corners, following = polygons.corners, polygons.next_corner
        previous = np.empty_like(following)
        previous[following] = np.arange(len(following))
        order = np.argsort(corners, kind="stable")
        self._first = np.searchsorted(corners[order], np.arange(int(corners.max(initial=-1)) + 2))
        self._before, self._after = corners[previous[order]], corners[following[order]]

    def _shared(self, vertex: int) -> list[tuple[int, int]]:
        """For each face at a vertex, the two neighbours that the vertex has in it."""
        if not 0 <= vertex < len(self._first) - 1:
            return []
        rows = slice(self._first[vertex], self._first[vertex + 1])
        return list(zip(self._before[rows].tolist(), self._after[rows].tolist(), strict=True))

    def neighbours(self, vertex: int) -> set[int]:
        return {v for pair in self._shared(vertex) for v in pair}

    def opposite(self, came_from: int, at: int) -> int | None:
        """The neighbour of `at` that shares no face with `came_from`; None at a pole or a border."""
        pairs = self._shared(at)
        around = {v for pair in pairs for v in pair}
        if len(around) != 4 or len(pairs) != 4:
            return None
        beside = {v for pair in pairs if came_from in pair for v in pair}
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
