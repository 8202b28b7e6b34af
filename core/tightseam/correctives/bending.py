"""How much offsets of a patch of a surface bend it."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix, diags
from scipy.sparse.linalg import splu

from tightseam.geometry.geodesic import distance_from
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Bools, Floats, Ints

WHOLE = 1e-4  # of the mass added to what bends, so that moving a patch as a whole costs something, too


class Bending:
    """½ Σ xᵀ (L M⁻¹ L + 1e-4 M) x of offsets of the `free` vertices (F,) of a mesh, by axis, all others staying: the thin plate's energy
    (Botsch & Kobbelt 2004). Factored once."""

    def __init__(self, mesh: SurfaceMesh, free: Ints) -> None:
        l, mass = mesh.laplacian
        rows = csr_matrix(l[free])
        self.mesh, self.free = mesh, free
        self.matrix = csr_matrix(rows @ diags(1 / mass) @ rows.T + WHOLE * diags(mass[free]))
        self._solve = splu(self.matrix.tocsc()).solve

    def __len__(self) -> int:
        return len(self.free)

    def answers(self, forces: Floats) -> Floats:
        """The offsets (F, M) of least energy under forces (F, M)."""
        return np.asarray(self._solve(np.ascontiguousarray(forces)))

    def energy(self, offsets: Floats) -> float:
        """Of offsets (F, 3)."""
        return float(0.5 * (offsets * (self.matrix @ offsets)).sum())


def around(mesh: SurfaceMesh, seeds: Ints, reach: float, kept: Bools | None = None) -> Ints:
    """The vertices within `reach` cm of some `seeds` over the surface, of those that may be `kept` (N,) in."""
    near = distance_from(mesh.graph, seeds, reach)[0] < reach
    return np.flatnonzero(near if kept is None else near & kept)
