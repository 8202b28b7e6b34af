"""The discrete Laplacian."""

from __future__ import annotations

import igl
import numpy as np
from scipy.sparse import csr_matrix

from tightseam.geometry.types import Floats, Ints


def laplacian(points: Floats, triangles: Ints) -> tuple[csr_matrix, Floats]:
    """Positive semi-definite cotangent matrix L (N, N) and lumped masses (N,) in cm².

    Cotangents of the intrinsic Delaunay triangulation (Bobenko & Springborn 2007; Sharp, Soliman & Crane 2019),
    so that off-diagonals are never positive and solutions obey the maximum principle. Vertices no triangle uses
    get a zero row and a tiny mass.
    """
    v = np.ascontiguousarray(points, np.float64)
    f = np.ascontiguousarray(triangles, np.int64)
    lengths = igl.edge_lengths(v, f)
    delaunay_lengths, delaunay_faces = igl.intrinsic_delaunay_triangulation(lengths, f)[:2]
    l = -csr_matrix(igl.cotmatrix_intrinsic(delaunay_lengths, delaunay_faces))
    # of the triangles as given: where four corners lie on a circle the Delaunay ones are chosen by rounding, not alike on both sides
    mass = igl.massmatrix(v, f, igl.MASSMATRIX_TYPE_BARYCENTRIC).diagonal()
    n = len(v)
    l.resize((n, n))
    full = np.zeros(n)
    full[: len(mass)] = mass
    return l, np.maximum(full, 1e-12)
