"""First weights by heat equilibrium on the surface."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix, diags

from tightseam.geometry.solve import solve_with_fixed
from tightseam.geometry.types import Bools, Floats

CONDUCTION = 1.0  # c of the source term, dimensionless


def heat_weights(
    laplacian: csr_matrix, mass: Floats, distance: Floats, anchored: Floats, fixed: Bools, values: Floats, shortest: float
) -> Floats:
    """Weights (N, B), non-negative, rows summing to one.

    Heat equilibrium of Baran & Popović (2007) with the mass matrix: (L + M H) w = M H p, H = c / max(d, h)², where
    `distance` (N,) is d in cm to the nearest anchor, `shortest` is h, and `anchored` (N, B) is p, rows summing to one.
    Rows `fixed` (N,) take `values` (N, B) instead. With the mass matrix the result does not depend on how dense the mesh is.
    """
    heat = mass * CONDUCTION / np.maximum(distance, shortest) ** 2
    system = csr_matrix(laplacian + diags(heat))
    weights = solve_with_fixed(system, heat[:, None] * anchored, fixed, values)
    weights = np.maximum(weights, 0.0)
    return np.asarray(weights / weights.sum(axis=1, keepdims=True))
