"""Smoothing that does not depend on how dense a mesh is."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix, diags

from tightseam.geometry.solve import solve_with_fixed
from tightseam.geometry.types import Floats

STILL = 1e-9  # cm²: what is smoothed by less stays as it is


def diffused(laplacian: csr_matrix, mass: Floats, values: Floats, time: Floats) -> Floats:
    """Values (N, K) after heat has flowed for a `time` (N,), cm², which may differ from place to place: one backward Euler step
    (M / t + L) u = M / t u₀ (Desbrun et al. 1999). Where the time is zero they stay."""
    fixed = time <= STILL
    pull = mass / np.maximum(time, STILL)
    return solve_with_fixed(csr_matrix(laplacian + diags(pull)), pull[:, None] * values, fixed, values)
