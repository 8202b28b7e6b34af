"""The compiled loops of `clash`: how deep one surface lies inside another.

Trees are handed over as in `tree_kernels`.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from tightseam.contact.primitives import OPTIONS, area_normal, at, corners_of, looks_against, to_triangle
from tightseam.contact.tree_kernels import DEEPEST, around, inside, nearest_facing

SHARE = 0.005  # of a depth to which it is looked for
LEAST = 0.005  # cm to which it is looked for where what counts is not the nearest
MOST_LOOKS = 60_000  # points that are looked at, however the surfaces lie
FEW = 6  # triangles that are looked through as they are
ROOM = 4  # times as many rows as there are triangles
TINY = 1e-9  # of a distance, for rounding


@njit(inline="always", **OPTIONS)
def _inside(q, way, offset, closed, body):  # type: ignore[no-untyped-def]
    """Is a point, moved by `offset` along a `way`, inside a body?"""
    return inside((q[0] + offset * way[0], q[1] + offset * way[1], q[2] + offset * way[2]), closed, *body)


@njit(inline="always", **OPTIONS)
def _apart(p, q):  # type: ignore[no-untyped-def]
    """Squared distance of two points."""
    return (p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 + (p[2] - q[2]) ** 2


@njit(inline="always", **OPTIONS)
def _middle(a, b, c):  # type: ignore[no-untyped-def]
    """The middle of a triangle, and how far its corners are from it."""
    middle = (a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3
    return middle, math.sqrt(max(_apart(a, middle), _apart(b, middle), _apart(c, middle)))


@njit(inline="always", **OPTIONS)
def _farthest(a, b, c, reach, distance, row, points, triangles):  # type: ignore[no-untyped-def]
    """What no point of a triangle is farther than from a surface that is nearest to its middle with the triangle `row`, at a `distance`.

    Nowhere is it farther than its farthest corner is from that one triangle: distance to a triangle is convex.
    """
    d, e, f = corners_of(points, triangles, row)
    most = max(to_triangle(a, d, e, f)[0], to_triangle(b, d, e, f)[0], to_triangle(c, d, e, f)[0])
    return min(math.sqrt(most), distance + reach)


@njit(**OPTIONS)
def _look(a, b, c, way, against, hint, near, counts, counted):  # type: ignore[no-untyped-def]
    """Distance of the middle of a triangle to a surface, the nearest triangle there, and what no point of it is farther than where it
    counts. `hint` is a triangle that may be near, -1 for none.

    Where what counts is farther away than all that, it is nearest to no point of it.
    """
    middle, reach = _middle(a, b, c)
    distance = np.inf
    if hint >= 0:
        d, e, f = corners_of(near[0], near[1], hint)
        if not against or looks_against(way, d, e, f):
            distance = math.sqrt(to_triangle(middle, d, e, f)[0])
    row, squared, _, _ = nearest_facing(middle, distance, against, way, *near)
    if row >= 0:
        distance = math.sqrt(squared)
    elif distance < np.inf:
        row = hint
    else:
        return 0.0, -1, 0.0
    most = _farthest(a, b, c, reach, distance, row, near[0], near[1])
    if not counts[row]:
        other, apart, _, _ = nearest_facing(middle, np.inf, against, way, *counted)
        if other < 0 or math.sqrt(apart) - reach >= most:
            most = 0.0
    return distance, row, most


@njit(**OPTIONS)
def _look_among(rows, first, last, apart, a, b, c, points, triangles, counts):  # type: ignore[no-untyped-def]
    """The same, where the nearest triangles of all points are among rows[first:last]; their squared distances go to `apart` (K,)."""
    middle, reach = _middle(a, b, c)
    row, squared, other = rows[first], np.inf, np.inf
    for k in range(first, last):
        d, e, f = corners_of(points, triangles, rows[k])
        found, _, _ = to_triangle(middle, d, e, f)
        apart[k - first] = found
        if found < squared:
            squared, row = found, rows[k]
        if found < other and counts[rows[k]]:
            other = found
    distance = math.sqrt(squared)
    most = _farthest(a, b, c, reach, distance, row, points, triangles)
    if not counts[row] and math.sqrt(other) - reach >= most:
        most = 0.0
    return distance, row, most


@njit(inline="always", **OPTIONS)
def _normal(a, b, c):  # type: ignore[no-untyped-def]
    """The direction in which a triangle looks."""
    x, y, z = area_normal(a, b, c)
    size = max(math.sqrt(x * x + y * y + z * z), 1e-30)
    return x / size, y / size, z / size


@njit(inline="always", **OPTIONS)
def _store(halves, row, a, b, c):  # type: ignore[no-untyped-def]
    for k in range(3):
        halves[row, 0, k], halves[row, 1, k], halves[row, 2, k] = a[k], b[k], c[k]


@njit(inline="always", **OPTIONS)
def _halved(halves, row, a, b, c):  # type: ignore[no-untyped-def]
    """Puts the halves of a triangle, across its longest side, at `halves[row]` (3, 3) and the next."""
    ab, bc, ca = _apart(a, b), _apart(b, c), _apart(c, a)
    if bc >= ab and bc >= ca:
        a, b, c = b, c, a
    elif ca >= ab:
        a, b, c = c, a, b
    half = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2
    _store(halves, row, a, half, c)
    _store(halves, row + 1, half, b, c)


@njit(**OPTIONS)
def deepest(start, crosses, all_crossings, beside, offset, against, designed, surface, closed, body, near, counts, counted, bounds, out):  # type: ignore[no-untyped-def]
    """The deepest point of a surface inside a body: its depth, and in `out` (3,) where; -1 where none is deeper than the least
    of the `bounds`.

    From the triangles of the surface that cross the body's (`start`, `crosses` (T,); `all_crossings` where no others do) what is inside
    is flooded over `beside` (T, 3; -1 at a border). Then triangles are halved, those that may be deepest first, as long as a deeper point
    may lie on them: branch and bound, to within the close one of the `bounds`, cm, or SHARE of the depth, among those triangles of the
    body that may be nearest to any of their points. Returns depth less what is `designed` (T,) there, and the triangle.

    `surface` is points and triangles, `body` what winds round what is inside (points ... far), looked at `offset` off the surface; depth
    is the distance to the nearest triangle of the tree `near` (with `against` of those that look against the surface), where it is one of
    those that `counts` (T',), which are also a tree of their own, `counted`.
    """
    close, least = bounds
    best, found = least, -1
    points, triangles = surface
    seen, flood, bound = np.zeros(len(triangles), np.bool_), np.empty(len(triangles), np.int64), np.empty(len(triangles))
    far = np.empty(len(triangles))  # what no point of a triangle is farther from the body's surface than
    waiting, left, flooded = np.empty(len(triangles), np.int64), len(start), 0
    hint, known = np.full(len(triangles), -1, np.int64), np.zeros(len(triangles), np.bool_)  # from the neighbour it was flooded from
    for k in range(left):
        waiting[k] = start[k]
        seen[start[k]] = True
    while left > 0:
        left -= 1
        t = waiting[left]
        a, b, c = corners_of(points, triangles, t)
        way = _normal(a, b, c)
        depth, row, most = _look(a, b, c, way, against, hint[t], near, counts, counted)
        if most <= 0:
            continue
        middle, _ = _middle(a, b, c)
        within = known[t] or _inside(middle, way, offset, closed, body)
        if not crosses[t] and not within:
            continue
        if within and counts[row] and depth - designed[t] > best:
            best, found = depth - designed[t], t
            out[0], out[1], out[2] = middle
        flood[flooded], bound[flooded], far[flooded] = t, most - designed[t], most
        flooded += 1
        for k in range(3):
            other = beside[t, k]
            if other >= 0 and not seen[other]:
                seen[other] = True
                hint[other], known[other] = row, all_crossings and not crosses[t] and not crosses[other]
                waiting[left] = other
                left += 1
    looks = flooded
    halves, span = np.empty((DEEPEST, 3, 3)), np.empty((DEEPEST, 2), np.int64)
    rows, apart = np.empty(ROOM * len(near[1]), np.int64), np.empty(len(near[1]))
    for f in np.argsort(-bound[:flooded]):
        t = flood[f]
        if bound[f] <= best + max(close, SHARE * best) or looks > MOST_LOOKS:
            break
        a, b, c = corners_of(points, triangles, t)
        way = _normal(a, b, c)
        span[0, 0], span[0, 1] = 0, around((a, b, c), far[f] * (1 + TINY), against, way, *near, rows)
        span[1, 0], span[1, 1] = span[0, 0], span[0, 1]
        _halved(halves, 0, a, b, c)
        parts = 2
        while parts > 0 and looks < MOST_LOOKS:
            parts -= 1
            looks += 1
            a, b, c = at(halves[parts], 0), at(halves[parts], 1), at(halves[parts], 2)
            first, last = span[parts, 0], span[parts, 1]
            depth, row, most = _look_among(rows, first, last, apart, a, b, c, near[0], near[1], counts)
            if most - designed[t] <= best + max(close, SHARE * best):
                continue
            middle, reach = _middle(a, b, c)
            nearest = (most + reach) * (1 + TINY)  # to its middle than all that are nearest to any of its points
            if depth - designed[t] > best:  # which side it is on matters only now
                if not _inside(middle, way, offset, closed, body):
                    most = min(most, reach - depth)
                elif counts[row]:
                    best, found = depth - designed[t], t
                    out[0], out[1], out[2] = middle
            smallest = close if counts[row] else max(close, LEAST)
            if most - designed[t] <= best + max(close, SHARE * best) or reach < smallest or parts + 2 > DEEPEST:
                continue
            span[parts, 0], span[parts, 1] = _narrowed(rows, apart, first, last, nearest**2)
            span[parts + 1, 0], span[parts + 1, 1] = span[parts, 0], span[parts, 1]
            _halved(halves, parts, a, b, c)
            parts += 2
    return best, found


@njit(inline="always", **OPTIONS)
def _narrowed(rows, apart, first, last, most):  # type: ignore[no-untyped-def]
    """The stretch of `rows` that is left of rows[first:last] where they are no farther `apart` (squared) than `most`: behind them, as far
    as there is room."""
    if last - first <= FEW or 2 * last - first > len(rows):
        return first, last
    kept = last
    for k in range(first, last):
        if apart[k - first] <= most:
            rows[kept] = rows[k]
            kept += 1
    return last, kept


@njit(**OPTIONS)
def opposing(queries, ways, tree, out):  # type: ignore[no-untyped-def]
    """Distance (Q,) of each query to the nearest triangle that looks against its way; infinite where none does."""
    for k in range(len(queries)):
        _, squared, _, _ = nearest_facing(at(queries, k), np.inf, True, at(ways, k), *tree)
        out[k] = math.sqrt(squared)
