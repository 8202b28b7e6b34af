"""The discrete Laplacian."""

from __future__ import annotations

import igl
import numpy as np
from scipy.sparse import csr_matrix

from tightseam.geometry.intrinsic import Intrinsic, intrinsic_delaunay
from tightseam.geometry.types import Floats, Ints


def laplacian(points: Floats, triangles: Ints, delaunay: Intrinsic | None = None) -> tuple[csr_matrix, Floats]:
    """Positive semi-definite cotangent matrix L (N, N) and lumped masses (N,) in cm².

    Cotangents of the intrinsic Delaunay triangulation (Sharp, Soliman & Crane 2019), so that off-diagonals are never positive and
    solutions obey the maximum principle. Vertices no triangle uses get a zero row and a tiny mass. `delaunay` is that triangulation,
    where it is known.
    """
    found = delaunay or intrinsic_delaunay(points, triangles)
    l = -csr_matrix(igl.cotmatrix_intrinsic(found.lengths, found.triangles))
    # of the triangles as given: where four corners lie on a circle the Delaunay ones are chosen by rounding, not alike on both sides
    mass = igl.massmatrix(
        np.ascontiguousarray(points, np.float64), np.ascontiguousarray(triangles, np.int64), igl.MASSMATRIX_TYPE_BARYCENTRIC
    ).diagonal()
    n = len(points)
    l.resize((n, n))
    full = np.zeros(n)
    full[: len(mass)] = mass
    return l, np.maximum(full, 1e-12)
