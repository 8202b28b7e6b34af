"""Which vertex is whose mirror image."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from tightseam.geometry.types import Floats, Ints

MIRROR = np.array([-1.0, 1.0, 1.0])


def partners(points: Floats, tolerance: float) -> Ints:
    """Index of the vertex nearest to each vertex's image in x = 0, (N,), or -1 where none lies within `tolerance` (cm)."""
    distance, index = cKDTree(points).query(points * MIRROR)
    return np.where(distance <= tolerance, index, -1)
