"""Volumes."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.adjacency import border_edges
from tightseam.geometry.types import Floats, Ints


class PatchVolume:
    """The volume between a patch of a surface and fans that close its borders, each about the middle of a loop."""

    def __init__(self, patch: Ints) -> None:
        """For triangles (T, 3) that all turn the same way round."""
        self._patch = patch
        self._borders = _loops(border_edges(patch))

    def of(self, points: Floats) -> float:
        """In cubic units of points (N, 3), by the divergence theorem."""
        a, b, c = (points[self._patch[:, k]] for k in range(3))
        total = float((a * np.cross(b, c)).sum())
        for loop in self._borders:  # the way round of the patch is the other way round of its lid
            middle = points[loop[:, 0]].mean(axis=0)
            total += float((middle * np.cross(points[loop[:, 1]], points[loop[:, 0]])).sum())
        return abs(total) / 6


def _loops(ends: Ints) -> list[Ints]:
    """Directed edges (E, 2) as loops of edges that follow one another."""
    after: dict[int, list[int]] = {}
    for a, b in ends.tolist():
        after.setdefault(a, []).append(b)
    loops = []
    while after:
        start = at = next(iter(after))
        loop = []
        while at in after:
            following = after[at].pop()
            if not after[at]:
                del after[at]
            loop.append((at, following))
            at = following
            if at == start:
                break
        loops.append(np.array(loop))
    return loops
