"""The compiled loops of `clash`: which triangles of two trees cross.

Trees are handed over as in `tree_kernels`.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.contact.primitives import OPTIONS
from tightseam.contact.tree_kernels import DEEPEST


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
def mark(first_side, second_side, triangles, order, second, first, last, of_triangle, of_node):  # type: ignore[no-untyped-def]
    """Which of two sides each triangle (T,) and each node (M,) of a tree has vertices of (N,): 1, 2, or 3 for both."""
    for node in range(len(second) - 1, -1, -1):
        bits = 0
        if second[node] == 0:
            for x in range(first[node], last[node]):
                own = 0
                for c in range(3):
                    v = triangles[order[x], c]
                    own |= (1 if first_side[v] else 0) | (2 if second_side[v] else 0)
                of_triangle[order[x]] = own
                bits |= own
        else:
            bits = of_node[node + 1] | of_node[second[node]]
        of_node[node] = bits


@njit(**OPTIONS)
def crossings(same, itself, one_tree, other_tree, one_marks, other_marks, out):  # type: ignore[no-untyped-def]
    """Pairs of triangles (their rows) of two trees that cross; where both are of the `same` mesh those with a common vertex do not
    count, and of a tree with `itself` each pair once. As many as `out` (K, 2) holds are written, all are counted. Marks are those of
    `mark`: a pair counts that is of both sides between them."""
    points, triangles, order, second, first, last, boxes = one_tree
    points2, triangles2, order2, second2, first2, last2, boxes2 = other_tree
    of_triangle, of_node = one_marks
    of_triangle2, of_node2 = other_marks
    count = 0
    stack = np.empty((4 * DEEPEST, 2), np.int64)
    stack[0, 0], stack[0, 1], waiting = 0, 0, 1
    while waiting > 0:
        waiting -= 1
        one, other = stack[waiting, 0], stack[waiting, 1]
        if of_node[one] | of_node2[other] != 3 or _apart(boxes, one, boxes2, other) or (itself and last2[other] <= first[one]):
            continue
        ends, ends2 = second[one] == 0, second2[other] == 0
        if ends and ends2:
            for x in range(first[one], last[one]):
                i, j, k = triangles[order[x], 0], triangles[order[x], 1], triangles[order[x], 2]
                if _off_box(points, i, j, k, boxes2, other):
                    continue
                for y in range(max(first2[other], x + 1) if itself else first2[other], last2[other]):
                    if of_triangle[order[x]] | of_triangle2[order2[y]] != 3:
                        continue
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
