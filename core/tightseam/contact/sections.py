"""How far two surfaces that face each other along a line are apart, place by place."""

from __future__ import annotations

import numpy as np

from tightseam.contact.compiled import loops
from tightseam.geometry.polyline import arc_length
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints

BESIDE = 0.08  # of the line to either side within which a triangle belongs to a place


class Facing:
    """Two patches of one mesh, of triangles (T, 3) and (U, 3), that meet along two lines of vertices with the same ends.

    The mesh is cut across the lines at `count` places, evenly along them from end to end, and the gap there is the distance of the two
    cuts. What is paired by its place along the lines stays paired however the surfaces slide, and a hole is as high as it is, however
    near its rim is to the other side.
    """

    def __init__(self, points: Floats, patch: Ints, other: Ints, line: Ints, other_line: Ints, count: int) -> None:
        if np.linalg.norm(points[line[0]] - points[other_line[0]]) > np.linalg.norm(points[line[0]] - points[other_line[-1]]):
            other_line = other_line[::-1]
        self._patches = patch.astype(np.int64), other.astype(np.int64)
        self._mixes = [_evenly(points[at], at, count) for at in (line, other_line)]
        middle, _ = self._planes(points)
        self._stations = [np.abs(points[t].mean(axis=1)[:, None] - middle[None]).sum(axis=2).argmin(axis=1) for t in self._patches]
        self._reach = max(2, round(BESIDE * count))

    def gaps(self, points: Floats) -> tuple[Floats, Floats]:
        """The gap (S,) at each place of a posed mesh (N, 3), in its units, 0 where a cut misses; and the places (S, 3)."""
        middle, across = self._planes(points)
        out = np.empty(len(middle))
        (patch, other), (at, other_at) = self._patches, self._stations
        seen = (read_only(x) for x in (points, patch, at, other, other_at))
        loops("section").apart(*seen, self._reach, read_only(middle), read_only(across), out)
        return np.maximum(out, 0.0), middle

    def _planes(self, points: Floats) -> tuple[Floats, Floats]:
        """Middles (S, 3) between the two lines, and the way (S, 3) along them there."""
        one, other = (share[:, None] * points[ends[:, 1]] + (1 - share)[:, None] * points[ends[:, 0]] for ends, share in self._mixes)
        middle = (one + other) / 2
        way = np.gradient(middle, axis=0)
        return middle, way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-12)


def _evenly(along: Floats, vertices: Ints, count: int) -> tuple[Ints, Floats]:
    """Which two vertices (S, 2) of a line are mixed, and the share (S,) of the second, at places evenly from end to end, ends left out."""
    at = arc_length(along)
    places = at[-1] * (np.arange(count) + 0.5) / count
    k = np.clip(np.searchsorted(at, places) - 1, 0, len(vertices) - 2)
    return np.stack([vertices[k], vertices[k + 1]], axis=1), (places - at[k]) / np.maximum(at[k + 1] - at[k], 1e-12)
