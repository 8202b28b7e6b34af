"""Spreading a prescribed movement smoothly over the skin."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix, diags

from tightseam.geometry.distance import stands_on
from tightseam.geometry.solve import solve_with_fixed
from tightseam.geometry.types import Bools, Floats
from tightseam.head.surface import Surface


def spread(surface: Surface, prescribed: Bools, offsets: Floats, held: Bools, reach: float) -> Floats:
    """Offsets (N, 3): as prescribed where `prescribed`, zero where `held`, screened harmonic between.

    Solves (L + M / reach²) d = 0 (screened Poisson equation), so that the movement dies off within about `reach` cm.
    """
    laplacian, mass = surface.laplacian
    fixed = prescribed | held
    values = np.where(prescribed[:, None], offsets, 0.0)
    return solve_with_fixed(csr_matrix(laplacian + diags(mass / reach**2)), np.zeros_like(values), fixed, values)


def carried_along(surface: Surface, offsets: Floats, rider: Floats, usable: Bools | None = None) -> Floats:
    """What the movement of the skin does to points that lie on it (K, 3): the offset at the closest point of the skin, or of the `usable`
    part of it."""
    triangles = surface.triangles if usable is None else surface.triangles[usable[surface.triangles].all(axis=1)]
    corners, shares = stands_on(rider, surface.points, triangles)
    return np.asarray(np.einsum("kc,kcx->kx", shares, offsets[corners]))
