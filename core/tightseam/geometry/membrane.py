"""Fair surfaces through the rim of a patch."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix, diags
from scipy.sparse.linalg import splu

from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Bools, Floats, Ints


class Membrane:
    """The smoothest way to carry what happens round a patch into it: L M⁻¹ L d = 0 within, the bi-Laplacian (Botsch & Kobbelt 2004),
    which leaves the rim with the slope it has there. Factored once for a patch."""

    def __init__(self, mesh: SurfaceMesh, inside: Bools) -> None:
        """For a mesh and its vertices `inside` (N,) the patch."""
        l, mass = mesh.laplacian
        whole = csr_matrix(l @ diags(1 / mass) @ l)
        self.inside: Ints = np.flatnonzero(inside)
        rows = whole[self.inside]
        self.rim: Ints = np.setdiff1d(np.unique(rows.indices), self.inside)
        self._to_rim = rows[:, self.rim]
        self._solve = splu(rows[:, self.inside].tocsc()).solve if len(self.inside) else None

    def filled(self, values: Floats) -> Floats:
        """Values (K, D) in the patch from those (N, D) of everything round it."""
        if self._solve is None:
            return np.zeros((0, values.shape[1]))
        return np.asarray(self._solve(-(self._to_rim @ values[self.rim])))
