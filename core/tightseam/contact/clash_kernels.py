"""The compiled loops of `clash`: which triangles of two trees cross, and how deep one surface lies inside another.

Trees are handed over as in `tree_kernels`.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from tightseam.contact.tree_kernels import DEEPEST, OPTIONS, inside, nearest_facing, to_triangle

SHARE = 0.005  # of a depth to which it is looked for
LEAST = 0.005  # cm to which it is looked for where what counts is not the nearest
MOST_LOOKS = 60_000  # points that are looked at, however the surfaces lie


@njit(inline="always", **OPTIONS)
def _apart(boxes, one, boxes2, other):  # type: ignore[no-untyped-def]
    """Are the boxes of two nodes apart?"""
    for c in range(3):  # noqa: SIM110 - compiled, a generator would not be
        if boxes[one, c] > boxes2[other, c + 3] or boxes2[other, c] > boxes[one, c + 3]:
            return True
    return False


@njit(inline="always", **OPTIONS)
def _apart_along(a, b, c, d, e, f):  # type: ignore[no-untyped-def]
    """Do the spans of three numbers and of three others have nothing in common?"""
    return max(a, b, c) < min(d, e, f) or max(d, e, f) < min(a, b, c)


@njit(inline="always", **OPTIONS)
def _one_side(p, q, r):  # type: ignore[no-untyped-def]
    return (p > 0 and q > 0 and r > 0) or (p < 0 and q < 0 and r < 0)


@njit(inline="always", **OPTIONS)
def _volume(ax, ay, az, bx, by, bz, cx, cy, cz, dx, dy, dz):  # type: ignore[no-untyped-def]
    """Six times the signed volume of a tetrahedron."""
    x, y, z, u, v, w, p, q, r = bx - ax, by - ay, bz - az, cx - ax, cy - ay, cz - az, dx - ax, dy - ay, dz - az
    return x * (v * r - w * q) + y * (w * p - u * r) + z * (u * q - v * p)


@njit(**OPTIONS)
def _pierces(px, py, pz, qx, qy, qz, at_p, at_q, ax, ay, az, bx, by, bz, cx, cy, cz):  # type: ignore[no-untyped-def]
    """Does the segment p q pass through a triangle, on whose two sides its ends lie (`at_p`, `at_q`)?"""
    if at_p * at_q > 0 or at_p == at_q:
        return False
    one = _volume(px, py, pz, qx, qy, qz, ax, ay, az, bx, by, bz)
    two = _volume(px, py, pz, qx, qy, qz, bx, by, bz, cx, cy, cz)
    three = _volume(px, py, pz, qx, qy, qz, cx, cy, cz, ax, ay, az)
    return (one >= 0 and two >= 0 and three >= 0) or (one <= 0 and two <= 0 and three <= 0)


@njit(**OPTIONS)
def cross(points, i, j, k, points2, l, m, n):  # type: ignore[no-untyped-def]
    """Do two triangles, given by their corners, cross: does an edge of one pass through the other? Those in one plane do not."""
    ax, ay, az, bx, by, bz = points[i, 0], points[i, 1], points[i, 2], points[j, 0], points[j, 1], points[j, 2]
    cx, cy, cz, dx, dy, dz = points[k, 0], points[k, 1], points[k, 2], points2[l, 0], points2[l, 1], points2[l, 2]
    ex, ey, ez, fx, fy, fz = points2[m, 0], points2[m, 1], points2[m, 2], points2[n, 0], points2[n, 1], points2[n, 2]
    if _apart_along(ax, bx, cx, dx, ex, fx) or _apart_along(ay, by, cy, dy, ey, fy) or _apart_along(az, bz, cz, dz, ez, fz):
        return False
    d = _volume(ax, ay, az, bx, by, bz, cx, cy, cz, dx, dy, dz)
    e = _volume(ax, ay, az, bx, by, bz, cx, cy, cz, ex, ey, ez)
    f = _volume(ax, ay, az, bx, by, bz, cx, cy, cz, fx, fy, fz)
    if _one_side(d, e, f):
        return False
    a = _volume(dx, dy, dz, ex, ey, ez, fx, fy, fz, ax, ay, az)
    b = _volume(dx, dy, dz, ex, ey, ez, fx, fy, fz, bx, by, bz)
    c = _volume(dx, dy, dz, ex, ey, ez, fx, fy, fz, cx, cy, cz)
    if _one_side(a, b, c):
        return False
    return (
        _pierces(ax, ay, az, bx, by, bz, a, b, dx, dy, dz, ex, ey, ez, fx, fy, fz)
        or _pierces(bx, by, bz, cx, cy, cz, b, c, dx, dy, dz, ex, ey, ez, fx, fy, fz)
        or _pierces(cx, cy, cz, ax, ay, az, c, a, dx, dy, dz, ex, ey, ez, fx, fy, fz)
        or _pierces(dx, dy, dz, ex, ey, ez, d, e, ax, ay, az, bx, by, bz, cx, cy, cz)
        or _pierces(ex, ey, ez, fx, fy, fz, e, f, ax, ay, az, bx, by, bz, cx, cy, cz)
        or _pierces(fx, fy, fz, dx, dy, dz, f, d, ax, ay, az, bx, by, bz, cx, cy, cz)
    )


@njit(inline="always", **OPTIONS)
def _touch(i, j, k, l, m, n):  # type: ignore[no-untyped-def]
    """Do two triangles of one mesh have a vertex in common?"""
    return i in (l, m, n) or j in (l, m, n) or k in (l, m, n)


@njit(inline="always", **OPTIONS)
def _off_box(points, i, j, k, boxes, node):  # type: ignore[no-untyped-def]
    """Does a triangle lie beyond one of the walls of a node's box?"""
    for c in range(3):
        p, q, r = points[i, c], points[j, c], points[k, c]
        if max(p, q, r) < boxes[node, c] or min(p, q, r) > boxes[node, c + 3]:
            return True
    return False


@njit(**OPTIONS)
def crossings(same, itself, one_tree, other_tree, out):  # type: ignore[no-untyped-def]
    """Pairs of triangles (their rows) of two trees that cross; where both are of the `same` mesh those with a common vertex do not
    count, and of a tree with `itself` each pair once. As many as `out` (K, 2) holds are written, all are counted."""
    points, triangles, order, second, first, last, boxes = one_tree
    points2, triangles2, order2, second2, first2, last2, boxes2 = other_tree
    count = 0
    stack = np.empty((4 * DEEPEST, 2), np.int64)
    stack[0, 0], stack[0, 1], waiting = 0, 0, 1
    while waiting > 0:
        waiting -= 1
        one, other = stack[waiting, 0], stack[waiting, 1]
        if _apart(boxes, one, boxes2, other) or (itself and last2[other] <= first[one]):
            continue
        ends, ends2 = second[one] == 0, second2[other] == 0
        if ends and ends2:
            for x in range(first[one], last[one]):
                i, j, k = triangles[order[x], 0], triangles[order[x], 1], triangles[order[x], 2]
                if _off_box(points, i, j, k, boxes2, other):
                    continue
                for y in range(max(first2[other], x + 1) if itself else first2[other], last2[other]):
                    l, m, n = triangles2[order2[y], 0], triangles2[order2[y], 1], triangles2[order2[y], 2]
                    if (same and _touch(i, j, k, l, m, n)) or not cross(points, i, j, k, points2, l, m, n):
                        continue
                    if count < len(out):
                        out[count, 0], out[count, 1] = order[x], order2[y]
                    count += 1
        elif ends2 or (not ends and last[one] - first[one] >= last2[other] - first2[other]):
            stack[waiting, 0], stack[waiting, 1] = one + 1, other
            stack[waiting + 1, 0], stack[waiting + 1, 1] = second[one], other
            waiting += 2
        else:
            stack[waiting, 0], stack[waiting, 1] = one, other + 1
            stack[waiting + 1, 0], stack[waiting + 1, 1] = one, second2[other]
            waiting += 2
    return count


@njit(**OPTIONS)
def _inside(q, way, offset, closed, body):  # type: ignore[no-untyped-def]
    """Is a point, moved by `offset` along `way` (3,), inside a body?"""
    p = np.empty(3)
    for c in range(3):
        p[c] = q[c] + offset * way[c]
    return inside(p, closed, *body)


@njit(**OPTIONS)
def _look(corners, middle, way, against, near, counts, counted):  # type: ignore[no-untyped-def]
    """Distance of the `middle` (3,) of a triangle to a surface, the nearest triangle there, what no point of it is farther than where it
    counts, and how far its corners are from its middle.

    Nowhere is it farther than its farthest corner is from that one triangle: distance to a triangle is convex. And where what counts is
    farther away than all that, it is nearest to no point of it.
    """
    reach = 0.0
    for c in range(3):
        middle[c] = (corners[0, c] + corners[1, c] + corners[2, c]) / 3
    row, squared, _, _ = nearest_facing(middle, np.inf, against, way, *near)
    if row < 0:
        return 0.0, -1, 0.0, 0.0
    points, triangles = near[0], near[1]
    a, b, c = points[triangles[row, 0]], points[triangles[row, 1]], points[triangles[row, 2]]
    most = 0.0
    for k in range(3):
        away = (corners[k, 0] - middle[0]) ** 2 + (corners[k, 1] - middle[1]) ** 2 + (corners[k, 2] - middle[2]) ** 2
        reach = max(reach, away)
        most = max(most, to_triangle(corners[k], a, b, c)[0])
    distance, reach = math.sqrt(squared), math.sqrt(reach)
    most = min(math.sqrt(most), distance + reach)
    if not counts[row]:
        other, apart, _, _ = nearest_facing(middle, np.inf, against, way, *counted)
        if other < 0 or math.sqrt(apart) - reach >= most:
            most = 0.0
    return distance, row, most, reach


@njit(**OPTIONS)
def _normal(corners, way):  # type: ignore[no-untyped-def]
    """The direction (3,) in which a triangle looks."""
    for c in range(3):
        d, e = (c + 1) % 3, (c + 2) % 3
        way[c] = (corners[1, d] - corners[0, d]) * (corners[2, e] - corners[0, e]) - (corners[1, e] - corners[0, e]) * (
            corners[2, d] - corners[0, d]
        )
    size = max(math.sqrt(way[0] ** 2 + way[1] ** 2 + way[2] ** 2), 1e-30)
    for c in range(3):
        way[c] /= size


@njit(**OPTIONS)
def _halved(halves, parts):  # type: ignore[no-untyped-def]
    """Replaces the triangle `halves[parts]` (3, 3) by its halves, across its longest side."""
    longest, split = -1.0, 0
    for k in range(3):
        n = (k + 1) % 3
        side = 0.0
        for c in range(3):
            side += (halves[parts, k, c] - halves[parts, n, c]) ** 2
        if side > longest:
            longest, split = side, k
    n, o = (split + 1) % 3, (split + 2) % 3
    for c in range(3):
        half = (halves[parts, split, c] + halves[parts, n, c]) / 2
        p, q, r = halves[parts, split, c], halves[parts, n, c], halves[parts, o, c]
        halves[parts, 0, c], halves[parts, 1, c], halves[parts, 2, c] = p, half, r
        halves[parts + 1, 0, c], halves[parts + 1, 1, c], halves[parts + 1, 2, c] = half, q, r


@njit(**OPTIONS)
def deepest(start, crosses, beside, offset, against, designed, surface, closed, body, near, counts, counted, close, place):  # type: ignore[no-untyped-def]
    """The deepest point of a surface inside a body: its depth, and in `place` (3,) where; 0 and -1 where none is inside.

    From the triangles of the surface that cross the body's (`start`, `crosses` (T,)) what is inside is flooded over `beside` (T, 3; -1 at
    a border). Then triangles are halved, those that may be deepest first, as long as a deeper point may lie on them: branch and bound, to
    within `close` cm or SHARE of the depth. Returns depth less what is `designed` (T,) there, and the triangle.

    `surface` is points and triangles, `body` what winds round what is inside (points ... far), looked at `offset` off the surface; depth
    is the distance to the nearest triangle of the tree `near` (with `against` of those that look against the surface), where it is one of
    those that `counts` (T',), which are also a tree of their own, `counted`.
    """
    best, found = 0.0, -1
    points, triangles = surface
    seen, flood, bound = np.zeros(len(triangles), np.bool_), np.empty(len(triangles), np.int64), np.empty(len(triangles))
    waiting, left, flooded = np.empty(len(triangles), np.int64), len(start), 0
    for k in range(left):
        waiting[k] = start[k]
        seen[start[k]] = True
    halves, middle, way = np.empty((DEEPEST, 3, 3)), np.empty(3), np.empty(3)
    while left > 0:
        left -= 1
        t = waiting[left]
        for k in range(3):
            halves[0, k] = points[triangles[t, k]]
        _normal(halves[0], way)
        depth, row, most, _ = _look(halves[0], middle, way, against, near, counts, counted)
        if most <= 0:
            continue
        within = _inside(middle, way, offset, closed, body)
        if not crosses[t] and not within:
            continue
        if within and counts[row] and depth - designed[t] > best:
            best, found = depth - designed[t], t
            place[:] = middle
        flood[flooded], bound[flooded] = t, most - designed[t]
        flooded += 1
        for k in range(3):
            other = beside[t, k]
            if other >= 0 and not seen[other]:
                seen[other] = True
                waiting[left] = other
                left += 1
    looks = flooded
    for f in np.argsort(-bound[:flooded]):
        t = flood[f]
        if bound[f] <= best + max(close, SHARE * best) or looks > MOST_LOOKS:
            break
        for k in range(3):
            halves[0, k] = points[triangles[t, k]]
        _normal(halves[0], way)
        _halved(halves, 0)
        parts = 2
        while parts > 0 and looks < MOST_LOOKS:
            parts -= 1
            looks += 1
            depth, row, most, reach = _look(halves[parts], middle, way, against, near, counts, counted)
            if most - designed[t] <= best + max(close, SHARE * best):
                continue
            if depth - designed[t] > best:  # which side it is on matters only now
                if not _inside(middle, way, offset, closed, body):
                    most = min(most, reach - depth)
                elif counts[row]:
                    best, found = depth - designed[t], t
                    place[:] = middle
            smallest = close if counts[row] else max(close, LEAST)
            if most - designed[t] <= best + max(close, SHARE * best) or reach < smallest or parts + 2 > DEEPEST:
                continue
            _halved(halves, parts)
            parts += 2
    return best, found


@njit(**OPTIONS)
def opposing(queries, ways, tree, out):  # type: ignore[no-untyped-def]
    """Distance (Q,) of each query to the nearest triangle that looks against its way; infinite where none does."""
    for k in range(len(queries)):
        _, squared, _, _ = nearest_facing(queries[k], np.inf, True, ways[k], *tree)
        out[k] = math.sqrt(squared)
