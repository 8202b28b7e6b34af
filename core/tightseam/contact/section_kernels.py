"""The compiled loops of `sections`: where planes cut two surfaces, and how far apart the cuts are."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from tightseam.contact.tree_kernels import OPTIONS

MOST = 512  # pieces of a cut


@njit(**OPTIONS)
def _cut(points, triangles, stations, reach, station, origin, normal, out):  # type: ignore[no-untyped-def]
    """Where a plane cuts the triangles (T, 3) whose own `stations` (T,) are within `reach` of this one: segments (K, 2, 3), counted."""
    count = 0
    for t in range(len(triangles)):
        if abs(stations[t] - station) > reach or count == len(out):
            continue
        ends = 0
        for k in range(3):
            i, j = triangles[t, k], triangles[t, (k + 1) % 3]
            p = q = 0.0
            for c in range(3):
                p += (points[i, c] - origin[c]) * normal[c]
                q += (points[j, c] - origin[c]) * normal[c]
            if (p < 0) == (q < 0) or ends == 2:
                continue
            share = p / (p - q)
            for c in range(3):
                out[count, ends, c] = points[i, c] + share * (points[j, c] - points[i, c])
            ends += 1
        if ends == 2:
            count += 1
    return count


@njit(**OPTIONS)
def _between(p, q, r, s):  # type: ignore[no-untyped-def]
    """Squared distance of the segments p q and r s (Ericson 2005, 5.1.9)."""
    a = b = c = e = f = 0.0
    for k in range(3):
        u, v, w = q[k] - p[k], s[k] - r[k], p[k] - r[k]
        a, e, f, c, b = a + u * u, e + v * v, f + v * w, c + u * w, b + u * v
    under = a * e - b * b
    m = min(max((b * f - c * e) / under, 0.0), 1.0) if under > 1e-18 else 0.0
    n = (b * m + f) / e if e > 1e-18 else 0.0
    if n < 0:
        n, m = 0.0, min(max(-c / a, 0.0), 1.0) if a > 1e-18 else 0.0
    elif n > 1:
        n, m = 1.0, min(max((b - c) / a, 0.0), 1.0) if a > 1e-18 else 0.0
    found = 0.0
    for k in range(3):
        off = p[k] + m * (q[k] - p[k]) - r[k] - n * (s[k] - r[k])
        found += off * off
    return found


@njit(**OPTIONS)
def apart(points, one, stations_one, other, stations_other, reach, origins, normals, out):  # type: ignore[no-untyped-def]
    """For each plane (S,) the distance of its cuts through two sets of triangles; -1 where it misses either."""
    pieces, others = np.empty((MOST, 2, 3)), np.empty((MOST, 2, 3))
    for s in range(len(origins)):
        count = _cut(points, one, stations_one, reach, s, origins[s], normals[s], pieces)
        count_other = _cut(points, other, stations_other, reach, s, origins[s], normals[s], others)
        best = np.inf
        for i in range(count):
            for j in range(count_other):
                best = min(best, _between(pieces[i, 0], pieces[i, 1], others[j, 0], others[j, 1]))
        out[s] = math.sqrt(best) if best < np.inf else -1.0
