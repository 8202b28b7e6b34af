"""From one head to another by what both have landmarks for."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from scipy.interpolate import RBFInterpolator
from scipy.spatial import cKDTree

from tightseam.document.model import Landmark, Point
from tightseam.geometry.types import Floats, Ints

FEWEST = 6  # landmarks on both that do not lie in one plane
FLAT = 0.1  # cm across


class Bridge:
    """Takes places about one head to another by a thin plate spline through the landmarks of both (Bookstein 1989); None in place of it
    where they have too few in common."""

    @classmethod
    def between(cls, ours: Mapping[str, Point], theirs: tuple[Landmark, ...]) -> Bridge | None:
        both = [(ours[m.name], m.point) for m in theirs if m.name in ours]
        if len(both) < FEWEST:
            return None
        source, target = (np.array(points, float) for points in zip(*both, strict=True))
        if np.linalg.svd(source - source.mean(axis=0), compute_uv=False)[-1] < FLAT:
            return None
        return cls(source, target)

    def __init__(self, source: Floats, target: Floats) -> None:
        self._warp = RBFInterpolator(source, target, kernel="thin_plate_spline")

    def places(self, points: Floats) -> Floats:
        """Where places (K, 3) about the one head are about the other, cm."""
        return np.asarray(self._warp(np.asarray(points, float).reshape(-1, 3)))

    def vertices(self, points: Floats, mesh: Floats) -> tuple[Ints, float]:
        """The vertices of a mesh (N, 3) of the other head nearest to where places (K, 3) come, and how far the farthest is, cm."""
        apart, nearest = cKDTree(mesh).query(self.places(points))
        return nearest, float(apart.max(initial=0.0))
