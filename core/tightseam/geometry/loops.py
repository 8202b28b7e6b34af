"""Edge loops: straight walks over a quad mesh."""

from __future__ import annotations

from tightseam.geometry.polygons import Polygons


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
