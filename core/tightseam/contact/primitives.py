"""Points, triangles and segments, compiled. Points are handed over as three numbers each: a view costs more than what is done with it."""

from __future__ import annotations

from numba import njit

OPTIONS = {"cache": True, "nogil": True, "boundscheck": False, "error_model": "numpy"}


@njit(inline="always", **OPTIONS)
def at(points, row):  # type: ignore[no-untyped-def]
    return points[row, 0], points[row, 1], points[row, 2]


@njit(inline="always", **OPTIONS)
def corners_of(points, triangles, row):  # type: ignore[no-untyped-def]
    return at(points, triangles[row, 0]), at(points, triangles[row, 1]), at(points, triangles[row, 2])


@njit(**OPTIONS)
def to_triangle(q, a, b, c):  # type: ignore[no-untyped-def]
    """Squared distance of a point to a triangle, and the shares of b and c in the closest point (Ericson 2005, 5.1.5)."""
    abx, aby, abz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    acx, acy, acz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    apx, apy, apz = q[0] - a[0], q[1] - a[1], q[2] - a[2]
    d1, d2 = abx * apx + aby * apy + abz * apz, acx * apx + acy * apy + acz * apz
    bpx, bpy, bpz = q[0] - b[0], q[1] - b[1], q[2] - b[2]
    d3, d4 = abx * bpx + aby * bpy + abz * bpz, acx * bpx + acy * bpy + acz * bpz
    cpx, cpy, cpz = q[0] - c[0], q[1] - c[1], q[2] - c[2]
    d5, d6 = abx * cpx + aby * cpy + abz * cpz, acx * cpx + acy * cpy + acz * cpz
    va, vb, vc = d3 * d6 - d5 * d4, d5 * d2 - d1 * d6, d1 * d4 - d3 * d2
    v, w = 0.0, 0.0
    if d1 <= 0 and d2 <= 0:
        pass
    elif d3 >= 0 and d4 <= d3:
        v = 1.0
    elif d6 >= 0 and d5 <= d6:
        w = 1.0
    elif vc <= 0 and d1 >= 0 and d3 <= 0:
        v = d1 / (d1 - d3)
    elif vb <= 0 and d2 >= 0 and d6 <= 0:
        w = d2 / (d2 - d6)
    elif va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
        w = (d4 - d3) / ((d4 - d3) + (d5 - d6))
        v = 1 - w
    elif va + vb + vc > 0:
        v, w = vb / (va + vb + vc), vc / (va + vb + vc)
    x, y, z = apx - v * abx - w * acx, apy - v * aby - w * acy, apz - v * abz - w * acz
    return x * x + y * y + z * z, v, w


@njit(inline="always", **OPTIONS)
def area_normal(a, b, c):  # type: ignore[no-untyped-def]
    """The direction in which a triangle looks, twice as long as its area."""
    ux, uy, uz, vx, vy, vz = b[0] - a[0], b[1] - a[1], b[2] - a[2], c[0] - a[0], c[1] - a[1], c[2] - a[2]
    return uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx


@njit(inline="always", **OPTIONS)
def looks_against(way, a, b, c):  # type: ignore[no-untyped-def]
    """Does a triangle look against a direction?"""
    x, y, z = area_normal(a, b, c)
    return way[0] * x + way[1] * y + way[2] * z < 0


@njit(inline="always", **OPTIONS)
def box_of(a, b, c):  # type: ignore[no-untyped-def]
    """Lowest and highest corner of the box of a triangle."""
    low = min(a[0], b[0], c[0]), min(a[1], b[1], c[1]), min(a[2], b[2], c[2])
    return low, (max(a[0], b[0], c[0]), max(a[1], b[1], c[1]), max(a[2], b[2], c[2]))


@njit(inline="always", **OPTIONS)
def between_boxes(low, high, other_low, other_high):  # type: ignore[no-untyped-def]
    """Squared distance of two boxes; 0 where they meet."""
    x = max(low[0] - other_high[0], 0.0, other_low[0] - high[0])
    y = max(low[1] - other_high[1], 0.0, other_low[1] - high[1])
    z = max(low[2] - other_high[2], 0.0, other_low[2] - high[2])
    return x * x + y * y + z * z


@njit(inline="always", **OPTIONS)
def _mixed(p, q, share):  # type: ignore[no-untyped-def]
    return p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1]), p[2] + share * (q[2] - p[2])


@njit(**OPTIONS)
def between_segments(p, q, r, s):  # type: ignore[no-untyped-def]
    """Squared distance of the segments p q and r s, and the point on the first (Ericson 2005, 5.1.9)."""
    u0, u1, u2, v0, v1, v2 = q[0] - p[0], q[1] - p[1], q[2] - p[2], s[0] - r[0], s[1] - r[1], s[2] - r[2]
    w0, w1, w2 = p[0] - r[0], p[1] - r[1], p[2] - r[2]
    a, e, b = u0 * u0 + u1 * u1 + u2 * u2, v0 * v0 + v1 * v1 + v2 * v2, u0 * v0 + u1 * v1 + u2 * v2
    c, f = u0 * w0 + u1 * w1 + u2 * w2, v0 * w0 + v1 * w1 + v2 * w2
    under = a * e - b * b
    m = min(max((b * f - c * e) / under, 0.0), 1.0) if under > 1e-18 else 0.0
    n = (b * m + f) / e if e > 1e-18 else 0.0
    if n < 0:
        n, m = 0.0, min(max(-c / a, 0.0), 1.0) if a > 1e-18 else 0.0
    elif n > 1:
        n, m = 1.0, min(max((b - c) / a, 0.0), 1.0) if a > 1e-18 else 0.0
    one, other = _mixed(p, q, m), _mixed(r, s, n)
    x, y, z = one[0] - other[0], one[1] - other[1], one[2] - other[2]
    return x * x + y * y + z * z, one
