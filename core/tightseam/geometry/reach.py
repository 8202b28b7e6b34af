"""Distance along the surface from a place on it, as far as a brush reaches."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Fans:
    """The triangles round each vertex: those of vertex v are `triangles[order[start[v]:start[v + 1]]]`. (M, 3), (3M,), (N + 1,)."""

    triangles: Ints
    start: Ints
    order: Ints


def fans(triangles: Ints, vertex_count: int) -> Fans:
    corners = triangles.astype(np.int64).ravel()
    order = np.argsort(corners, kind="stable") // 3
    start = np.concatenate([[0], np.cumsum(np.bincount(corners, minlength=vertex_count))])
    return Fans(np.ascontiguousarray(triangles, np.int64), start.astype(np.int64), order.astype(np.int64))


class Reach:
    """Distances on a mesh of N vertices from one place after another; buffers are kept, so that a dab costs only what it touches."""

    def __init__(self, fans: Fans) -> None:
        self._fans = fans
        count = len(fans.start) - 1
        self._distance = np.full(count, np.inf)
        self._done = np.zeros(count, np.bool_)

    def from_place(self, points: Floats, seed: int, place: Floats, radius: float) -> tuple[Ints, Floats]:
        """The vertices (K,) within `radius` of a place (3,) by the vertex `seed`, and how far each is along the surface (K,), cm.

        Fast marching over the triangles (Kimmel & Sethian 1998) from the corners of the triangles at `seed`; nothing beyond the
        radius is looked at. `points` (N, 3) float64 may be posed.
        """
        from tightseam.geometry.march import march  # compiled loops are loaded when they are first needed

        mesh = (read_only(x) for x in (points, self._fans.triangles, self._fans.start, self._fans.order))
        near, far = march(*mesh, seed, place, radius, self._distance, self._done)
        order = np.argsort(near)
        return near[order], far[order]
