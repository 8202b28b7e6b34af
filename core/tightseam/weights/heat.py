"""First weights by heat equilibrium on the surface."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix, diags

from tightseam.geometry.solve import solve_with_fixed
from tightseam.geometry.types import Bools, Floats

NEAREST = 0.6  # cm: what is nearer to an anchor is not held by it any more firmly
FIRM = 16.0  # 1/cm²: how firmly a place is held to its value where it is held half


def heat_weights(
    laplacian: csr_matrix, mass: Floats, distance: Floats, anchored: Floats, held: Floats | None = None, values: Floats | None = None
) -> Floats:
    """Weights (N, B), non-negative, rows summing to one.

    Heat equilibrium of Baran & Popović (2007) with the mass matrix: (L + M H) w = M H p, H = 1 / (d² + h²), where `distance` (N,) is d
    in cm to the nearest anchor and `anchored` (N, B) is p, rows summing to one. Where places are `held` (N,) at `values` (N, B), wholly
    at 1 and not at all at 0, that much more heat flows from there. With the mass matrix, and all that it is given smooth, the result does
    not depend on how dense the mesh is.
    """
    heat = mass / (distance**2 + NEAREST**2)
    right = heat[:, None] * anchored
    fixed: Bools = np.zeros(len(mass), bool)
    if held is None or values is None:
        values = np.zeros_like(anchored)
    else:
        fixed = held >= 1
        firm = mass * FIRM * np.where(fixed, 0, held / (1.5 - held))
        heat, right = heat + firm, right + firm[:, None] * values
    weights = np.maximum(solve_with_fixed(csr_matrix(laplacian + diags(heat)), right, fixed, values), 0.0)
    return np.asarray(weights / weights.sum(axis=1, keepdims=True))


def nearest_shares(distances: Floats, soft: float) -> Floats:
    """Shares (N, B) of the nearest of B things at `distances` (N, B), cm: all of it where the next one is much farther than `soft` cm away,
    half each where both are alike (softmax)."""
    shares = np.exp(-(distances - distances.min(axis=1, keepdims=True)) / soft)
    return np.asarray(shares / shares.sum(axis=1, keepdims=True))
