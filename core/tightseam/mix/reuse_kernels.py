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


@njit(inline="always", **OPTIONS)
def _apart(points, others, v, least):  # type: ignore[no-untyped-def]
    x, y, z = points[v, 0] - others[v, 0], points[v, 1] - others[v, 1], points[v, 2] - others[v, 2]
    return abs(x) > least or abs(y) > least or abs(z) > least


@njit(**OPTIONS)
def moved(points, one, other, least, from_one, from_other):  # type: ignore[no-untyped-def]
    """Which points (N, 3) are farther than `least` along any axis from where they are in `one` (N, 3) and in an`other`, to (N,) each."""
    for v in range(len(points)):
        from_one[v] = _apart(points, one, v, least)
        from_other[v] = _apart(points, other, v, least)


@njit(**OPTIONS)
def touched(flags, rows, starts, out):  # type: ignore[no-untyped-def]
    """For each group rows[starts[k]:starts[k + 1]] of vertices whether any of them is flagged (N,), to `out` (K,)."""
    for k in range(len(starts) - 1):
        out[k] = False
        for i in range(starts[k], starts[k + 1]):
            if flags[rows[i]]:
                out[k] = True
                break
