"""The compiled loop of `gap`: where two surfaces are nearest to each other. Trees are handed over as in `tree_kernels`."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from tightseam.contact.primitives import OPTIONS, area_normal, at, between_boxes, between_segments, box_of, corners_of, to_triangle
from tightseam.contact.tree_kernels import DEEPEST


@njit(**OPTIONS)
def _nearer(best, place, one, other, swapped):  # type: ignore[no-untyped-def]
    """The squared distance of the corners of one triangle to another, where it is less than `best`; and the point on the first of the two,
    which are `swapped`."""
    a, b, c = other
    for k in range(3):
        corner = one[0] if k == 0 else one[1] if k == 1 else one[2]
        found, v, w = to_triangle(corner, a, b, c)
        if found < best:
            best, place = found, corner
            if swapped:
                u = 1 - v - w
                place = u * a[0] + v * b[0] + w * c[0], u * a[1] + v * b[1] + w * c[1], u * a[2] + v * b[2] + w * c[2]
    return best, place


@njit(inline="always", **OPTIONS)
def _along(x, y, z, a, p):  # type: ignore[no-untyped-def]
    return x * (p[0] - a[0]) + y * (p[1] - a[1]) + z * (p[2] - a[2])


@njit(inline="always", **OPTIONS)
def _beyond(one, other, squared):  # type: ignore[no-untyped-def]
    """Does a triangle lie wholly to one side of the plane of another, no nearer than that? Neighbours lie flat on one another."""
    a, b, c = one
    d, e, f = other
    x, y, z = area_normal(a, b, c)
    p, q, r = _along(x, y, z, a, d), _along(x, y, z, a, e), _along(x, y, z, a, f)
    off = max(min(p, q, r), -max(p, q, r), 0.0)
    return off * off >= squared * (x * x + y * y + z * z)


@njit(**OPTIONS)
def _between(best, place, one, other):  # type: ignore[no-untyped-def]
    """The squared distance of two triangles that do not cross, where it is less than `best`, and the point on the first: of corners to
    triangles, or of edges."""
    best, place = _nearer(best, place, one, other, False)
    best, place = _nearer(best, place, other, one, True)
    a, b, c = one
    d, e, f = other
    for p, q in ((a, b), (b, c), (c, a)):
        for r, s in ((d, e), (e, f), (f, d)):
            found, at_one = between_segments(p, q, r, s)
            if found < best:
                best, place = found, at_one
    return best, place


@njit(inline="always", **OPTIONS)
def _box_at(boxes, node):  # type: ignore[no-untyped-def]
    return at(boxes, node), (boxes[node, 3], boxes[node, 4], boxes[node, 5])


@njit(inline="always", **OPTIONS)
def _between_nodes(boxes, one, boxes2, other):  # type: ignore[no-untyped-def]
    low, high = _box_at(boxes, one)
    low2, high2 = _box_at(boxes2, other)
    return between_boxes(low, high, low2, high2)


@njit(**OPTIONS)
def nearest_pair(reach, one_tree, other_tree, out):  # type: ignore[no-untyped-def]
    """The distance of two surfaces that do not cross, at most `reach`; the triangle of the first that is nearest, -1 for none; and in
    `out` (3,) the point on it."""
    points, triangles, order, second, first, last, boxes = one_tree
    points2, triangles2, order2, second2, first2, last2, boxes2 = other_tree
    best, found, place = reach * reach, -1, (0.0, 0.0, 0.0)
    stack, ahead = np.empty((4 * DEEPEST, 2), np.int64), np.empty(4 * DEEPEST)
    stack[0, 0], stack[0, 1], ahead[0], waiting = 0, 0, _between_nodes(boxes, 0, boxes2, 0), 1
    while waiting > 0:
        waiting -= 1
        one, other = stack[waiting, 0], stack[waiting, 1]
        if ahead[waiting] >= best:
            continue
        ends, ends2 = second[one] == 0, second2[other] == 0
        if ends and ends2:
            low2, high2 = _box_at(boxes2, other)
            for x in range(first[one], last[one]):
                a, b, c = corners_of(points, triangles, order[x])
                low, high = box_of(a, b, c)
                if between_boxes(low, high, low2, high2) >= best:
                    continue
                for y in range(first2[other], last2[other]):
                    d, e, f = corners_of(points2, triangles2, order2[y])
                    low3, high3 = box_of(d, e, f)
                    if between_boxes(low, high, low3, high3) >= best:
                        continue
                    if _beyond((a, b, c), (d, e, f), best) or _beyond((d, e, f), (a, b, c), best):
                        continue
                    apart, there = _between(best, place, (a, b, c), (d, e, f))
                    if apart < best:
                        best, found, place = apart, order[x], there
            continue
        if ends2 or (not ends and last[one] - first[one] >= last2[other] - first2[other]):
            p, q, r, s = one + 1, other, second[one], other
        else:
            p, q, r, s = one, other + 1, one, second2[other]
        near, far = _between_nodes(boxes, p, boxes2, q), _between_nodes(boxes, r, boxes2, s)
        if near > far:
            p, q, near, r, s, far = r, s, far, p, q, near
        stack[waiting, 0], stack[waiting, 1], ahead[waiting] = r, s, far
        stack[waiting + 1, 0], stack[waiting + 1, 1], ahead[waiting + 1] = p, q, near
        waiting += 2
    out[0], out[1], out[2] = place
    return math.sqrt(best), found
