"""The compiled loops of `sections`: where planes cut two surfaces, and how far apart the cuts are."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from tightseam.contact.primitives import OPTIONS, at, between_boxes, between_segments, box_of

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
def apart(points, one, stations_one, other, stations_other, reach, origins, normals, out):  # type: ignore[no-untyped-def]
    """For each plane (S,) the distance of its cuts through two sets of triangles; -1 where it misses either."""
    pieces, others = np.empty((MOST, 2, 3)), np.empty((MOST, 2, 3))
    for place in range(len(origins)):
        count = _cut(points, one, stations_one, reach, place, origins[place], normals[place], pieces)
        count_other = _cut(points, other, stations_other, reach, place, origins[place], normals[place], others)
        best = np.inf
        for i in range(count):
            p, q = at(pieces[i], 0), at(pieces[i], 1)
            low, high = box_of(p, q, q)
            for j in range(count_other):
                r, s = at(others[j], 0), at(others[j], 1)
                other_low, other_high = box_of(r, s, s)
                if between_boxes(low, high, other_low, other_high) < best:
                    best = min(best, between_segments(p, q, r, s)[0])
        out[place] = math.sqrt(best) if best < np.inf else -1.0
