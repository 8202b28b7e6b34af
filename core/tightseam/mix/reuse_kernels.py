"""The compiled loops of `meter`: which vertices a cell moves against another, and whose places that touches."""

from __future__ import annotations

from numba import njit

from tightseam.contact.primitives import OPTIONS


@njit(**OPTIONS)
def brought(points, matrix, out):  # type: ignore[no-untyped-def]
    """Points (N, 3) as a matrix (4, 4) moves them, to `out` (N, 3)."""
    for v in range(len(points)):
        x, y, z = points[v, 0], points[v, 1], points[v, 2]
        for k in range(3):
            out[v, k] = matrix[k, 0] * x + matrix[k, 1] * y + matrix[k, 2] * z + matrix[k, 3]


@njit(**OPTIONS)
def moved(points, others, least, out):  # type: ignore[no-untyped-def]
    """Which points (N, 3) are farther than `least` along any axis from where the `others` (N, 3) are, to `out` (N,)."""
    for v in range(len(points)):
        out[v] = (
            abs(points[v, 0] - others[v, 0]) > least or abs(points[v, 1] - others[v, 1]) > least or abs(points[v, 2] - others[v, 2]) > least
        )


@njit(**OPTIONS)
def touched(flags, rows, starts, out):  # type: ignore[no-untyped-def]
    """For each group rows[starts[k]:starts[k + 1]] of vertices whether any of them is flagged (N,), to `out` (K,)."""
    for k in range(len(starts) - 1):
        out[k] = False
        for i in range(starts[k], starts[k + 1]):
            if flags[rows[i]]:
                out[k] = True
                break
