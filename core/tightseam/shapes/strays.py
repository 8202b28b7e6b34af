"""Vertices that move alone."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix

from tightseam.geometry.types import Floats, Ints

STILL = 0.001  # cm that a vertex moves and does not show


def strays(beside: csr_matrix, offsets: Floats, least: float) -> Ints:
    """Vertices (K,) that offsets (N, 3) move by more than `least` cm while none `beside` (N, N) them moves at all."""
    goes = np.linalg.norm(offsets, axis=1)
    return np.flatnonzero((goes > least) & (beside @ (goes > STILL).astype(float) == 0))
