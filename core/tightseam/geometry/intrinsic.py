"""A surface by the lengths of its edges alone."""

from __future__ import annotations

from dataclasses import dataclass

import igl
import numpy as np

from tightseam.geometry.reach import Fans, fans
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Intrinsic:
    """Triangles between the vertices of a mesh that lie in its surface: `lengths` (T, 3), cm, of the edge opposite each corner, and the
    triangles round each vertex."""

    lengths: Floats
    fans: Fans

    @property
    def triangles(self) -> Ints:
        """(T, 3)."""
        return self.fans.triangles


def intrinsic_delaunay(points: Floats, triangles: Ints) -> Intrinsic:
    """The intrinsic Delaunay triangulation of points (N, 3) and triangles (T, 3) (Bobenko & Springborn 2007): whichever way the quads of a
    mesh were split, it is the same but for those whose corners lie on a circle."""
    faces = np.ascontiguousarray(triangles, np.int64)
    lengths, found = igl.intrinsic_delaunay_triangulation(igl.edge_lengths(np.ascontiguousarray(points, np.float64), faces), faces)[:2]
    return Intrinsic(np.ascontiguousarray(lengths), fans(found, len(points)))
