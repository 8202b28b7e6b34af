"""Sparse positive definite systems."""

from __future__ import annotations

import numpy as np
from cholespy import CholeskySolverD, MatrixType
from scipy.sparse import csr_matrix

from tightseam.geometry.types import Bools, Floats


def solve_positive(matrix: csr_matrix, right: Floats) -> Floats:
    """x of A x = b for a sparse symmetric positive definite A (N, N) and b (N, K), by sparse Cholesky factorisation (CHOLMOD)."""
    coo = matrix.tocoo()
    solver = CholeskySolverD(
        matrix.shape[0], coo.row.astype(np.int32), coo.col.astype(np.int32), coo.data.astype(np.float64), MatrixType.COO
    )
    b = np.ascontiguousarray(right, np.float64)
    x = np.zeros_like(b)
    solver.solve(b, x)
    return x


def solve_with_fixed(matrix: csr_matrix, right: Floats, fixed: Bools, values: Floats) -> Floats:
    """x (N, K) of A x = b where rows `fixed` (N,) are given: x[fixed] = values[fixed]."""
    x = np.where(fixed[:, None], values, 0.0)
    free = np.flatnonzero(~fixed)
    if len(free):
        held = np.flatnonzero(fixed)
        b = right[free] - matrix[free][:, held] @ x[held]
        x[free] = solve_positive(csr_matrix(matrix[free][:, free]), b)
    return x
