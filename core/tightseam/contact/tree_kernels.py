"""The compiled loops of `tree`: a tree of boxes over triangles, refitted for each pose; nearest triangles and winding numbers.

Nodes stand in preorder: the first child of a node follows it, `second` (M,) is the other one, 0 for a leaf, which holds the triangles
`order[first[k]:last[k]]`. `boxes` (M, 6) are lowest and highest corners. `far` (M, 7) is what a node looks like from far away: the sum of
its area normals, their middle, and how far its triangles reach from that.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from tightseam.contact.primitives import OPTIONS, at, between_boxes, box_of, corners_of, looks_against, to_triangle

DEEPEST = 64  # nodes that wait on the way down
LEAF = 4  # triangles
FAR = 3.0  # times its reach from which a node's dipole stands for its triangles
RAY, OTHER_RAY = (0.80, 0.36, 0.48), (0.77, -0.56, 0.31)  # any two ways that no edge of a mesh is likely to lie along


@njit(**OPTIONS)
def build(centres, order, second, first, last):  # type: ignore[no-untyped-def]
    """Halve the triangles (T) by their `centres` (T, 3) along the longest side again and again; the number of nodes."""
    stack = np.empty((DEEPEST, 3), np.int64)
    stack[0, 0], stack[0, 1], stack[0, 2] = 0, len(order), -1
    waiting, made = 1, 0
    while waiting > 0:
        waiting -= 1
        start, end, parent = stack[waiting]
        node = made
        made += 1
        if parent >= 0:
            second[parent] = node
        first[node], last[node], second[node] = start, end, 0
        if end - start <= LEAF:
            continue
        longest, axis = -1.0, 0
        for c in range(3):
            low, high = np.inf, -np.inf
            for k in range(start, end):
                x = centres[order[k], c]
                low, high = min(low, x), max(high, x)
            if high - low > longest:
                longest, axis = high - low, c
        part = order[start:end].copy()
        order[start:end] = part[np.argsort(centres[part, axis], kind="mergesort")]
        middle = (start + end) // 2
        stack[waiting, 0], stack[waiting, 1], stack[waiting, 2] = middle, end, node
        stack[waiting + 1, 0], stack[waiting + 1, 1], stack[waiting + 1, 2] = start, middle, -1
        waiting += 2
    return made


@njit(**OPTIONS)
def refit(points, triangles, order, second, first, last, boxes, far):  # type: ignore[no-untyped-def]
    """Boxes and dipoles of all nodes for moved points (N, 3): children stand behind their parents."""
    for node in range(len(second) - 1, -1, -1):
        low0, low1, low2, high0, high1, high2 = np.inf, np.inf, np.inf, -np.inf, -np.inf, -np.inf
        nx, ny, nz, cx, cy, cz, area = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
        if second[node] == 0:
            for k in range(first[node], last[node]):
                a, b, c = corners_of(points, triangles, order[k])
                low0, high0 = min(low0, a[0], b[0], c[0]), max(high0, a[0], b[0], c[0])
                low1, high1 = min(low1, a[1], b[1], c[1]), max(high1, a[1], b[1], c[1])
                low2, high2 = min(low2, a[2], b[2], c[2]), max(high2, a[2], b[2], c[2])
                ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
                vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
                mx, my, mz = (uy * vz - uz * vy) / 2, (uz * vx - ux * vz) / 2, (ux * vy - uy * vx) / 2
                size = math.sqrt(mx * mx + my * my + mz * mz)
                nx, ny, nz, area = nx + mx, ny + my, nz + mz, area + size
                cx += size * (a[0] + b[0] + c[0]) / 3
                cy += size * (a[1] + b[1] + c[1]) / 3
                cz += size * (a[2] + b[2] + c[2]) / 3
        else:
            for child in (node + 1, second[node]):
                low0, low1, low2 = min(low0, boxes[child, 0]), min(low1, boxes[child, 1]), min(low2, boxes[child, 2])
                high0, high1, high2 = max(high0, boxes[child, 3]), max(high1, boxes[child, 4]), max(high2, boxes[child, 5])
                nx, ny, nz = nx + far[child, 0], ny + far[child, 1], nz + far[child, 2]
                size = float(last[child] - first[child])  # the middle may stand anywhere; by count it stands near enough
                area += size
                cx, cy, cz = cx + size * far[child, 3], cy + size * far[child, 4], cz + size * far[child, 5]
        if area > 0:
            cx, cy, cz = cx / area, cy / area, cz / area
        else:
            cx, cy, cz = low0, low1, low2
        boxes[node, 0], boxes[node, 1], boxes[node, 2] = low0, low1, low2
        boxes[node, 3], boxes[node, 4], boxes[node, 5] = high0, high1, high2
        dx, dy, dz = max(high0 - cx, cx - low0), max(high1 - cy, cy - low1), max(high2 - cz, cz - low2)
        far[node, 0], far[node, 1], far[node, 2], far[node, 3], far[node, 4], far[node, 5] = nx, ny, nz, cx, cy, cz
        far[node, 6] = math.sqrt(dx * dx + dy * dy + dz * dz)


@njit(inline="always", **OPTIONS)
def to_box(q, boxes, node):  # type: ignore[no-untyped-def]
    """Squared distance of a point to the box of a node; 0 inside."""
    x = max(boxes[node, 0] - q[0], 0.0, q[0] - boxes[node, 3])
    y = max(boxes[node, 1] - q[1], 0.0, q[1] - boxes[node, 4])
    z = max(boxes[node, 2] - q[2], 0.0, q[2] - boxes[node, 5])
    return x * x + y * y + z * z


@njit(**OPTIONS)
def nearest(q, within, points, triangles, order, second, first, last, boxes):  # type: ignore[no-untyped-def]
    """The nearest triangle nearer than `within` (its row; -1 for none), its squared distance, and the shares of its last two corners."""
    return nearest_facing(q, within, False, q, points, triangles, order, second, first, last, boxes)


@njit(**OPTIONS)
def nearest_facing(q, within, against, way, points, triangles, order, second, first, last, boxes):  # type: ignore[no-untyped-def]
    """The same; with `against` of those triangles alone that look against a direction `way` (3,)."""
    best, found, v, w = within * within, -1, 0.0, 0.0
    stack, ahead = np.empty(DEEPEST, np.int64), np.empty(DEEPEST)
    stack[0], ahead[0], waiting = 0, to_box(q, boxes, 0), 1
    while waiting > 0:
        waiting -= 1
        node = stack[waiting]
        if ahead[waiting] >= best:
            continue
        if second[node] == 0:
            for k in range(first[node], last[node]):
                a, b, c = corners_of(points, triangles, order[k])
                if against and not looks_against(way, a, b, c):
                    continue
                d, s, r = to_triangle(q, a, b, c)
                if d < best:
                    best, found, v, w = d, order[k], s, r
            continue
        one, other = node + 1, second[node]
        d_one, d_other = to_box(q, boxes, one), to_box(q, boxes, other)
        if d_one < d_other:
            one, other, d_one, d_other = other, one, d_other, d_one
        stack[waiting], ahead[waiting] = one, d_one
        stack[waiting + 1], ahead[waiting + 1] = other, d_other
        waiting += 2
    return found, best, v, w


@njit(**OPTIONS)
def around(corners, within, against, way, points, triangles, order, second, first, last, boxes, out):  # type: ignore[no-untyped-def]
    """How many triangles have a box no farther than `within` from that of a triangle with these three `corners`, their rows in `out` (T,);
    with `against` of those alone that look against a direction `way`."""
    count, most = 0, within * within
    low, high = box_of(corners[0], corners[1], corners[2])
    stack = np.empty(DEEPEST, np.int64)
    stack[0], waiting = 0, 1
    while waiting > 0:
        waiting -= 1
        node = stack[waiting]
        if between_boxes(low, high, at(boxes, node), (boxes[node, 3], boxes[node, 4], boxes[node, 5])) > most:
            continue
        if second[node] == 0:
            for k in range(first[node], last[node]):
                a, b, c = corners_of(points, triangles, order[k])
                if against and not looks_against(way, a, b, c):
                    continue
                own_low, own_high = box_of(a, b, c)
                if between_boxes(low, high, own_low, own_high) <= most:
                    out[count] = order[k]
                    count += 1
            continue
        stack[waiting], stack[waiting + 1] = second[node], node + 1
        waiting += 2
    return count


@njit(**OPTIONS)
def winding(q, points, triangles, order, second, first, last, far):  # type: ignore[no-untyped-def]
    """Generalised winding number at a point: dipoles from afar (Barill et al. 2018), else solid angles (Van Oosterom & Strackee 1983)."""
    total = 0.0
    stack = np.empty(DEEPEST, np.int64)
    stack[0], waiting = 0, 1
    while waiting > 0:
        waiting -= 1
        node = stack[waiting]
        x, y, z = far[node, 3] - q[0], far[node, 4] - q[1], far[node, 5] - q[2]
        away = math.sqrt(x * x + y * y + z * z)
        if away > FAR * far[node, 6]:
            total += (x * far[node, 0] + y * far[node, 1] + z * far[node, 2]) / (away * away * away)
        elif second[node] == 0:
            for k in range(first[node], last[node]):
                a, b, c = corners_of(points, triangles, order[k])
                total += _solid_angle(q, a, b, c)
        else:
            stack[waiting], stack[waiting + 1] = second[node], node + 1
            waiting += 2
    return total / (4 * math.pi)


@njit(**OPTIONS)
def _solid_angle(q, a, b, c):  # type: ignore[no-untyped-def]
    ax, ay, az = a[0] - q[0], a[1] - q[1], a[2] - q[2]
    bx, by, bz = b[0] - q[0], b[1] - q[1], b[2] - q[2]
    cx, cy, cz = c[0] - q[0], c[1] - q[1], c[2] - q[2]
    la, lb, lc = math.sqrt(ax * ax + ay * ay + az * az), math.sqrt(bx * bx + by * by + bz * bz), math.sqrt(cx * cx + cy * cy + cz * cz)
    over = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
    under = la * lb * lc + (ax * bx + ay * by + az * bz) * lc + (bx * cx + by * cy + bz * cz) * la + (cx * ax + cy * ay + cz * az) * lb
    return 2 * math.atan2(over, under)


@njit(**OPTIONS)
def _crossings(q, way, points, triangles, order, second, first, last, boxes):  # type: ignore[no-untyped-def]
    """How often a ray leaves a surface more than it enters: the winding number, where the surface is closed."""
    count = 0
    stack = np.empty(DEEPEST, np.int64)
    stack[0], waiting = 0, 1
    while waiting > 0:
        waiting -= 1
        node = stack[waiting]
        a, b = (boxes[node, 0] - q[0]) / way[0], (boxes[node, 3] - q[0]) / way[0]
        c, d = (boxes[node, 1] - q[1]) / way[1], (boxes[node, 4] - q[1]) / way[1]
        e, f = (boxes[node, 2] - q[2]) / way[2], (boxes[node, 5] - q[2]) / way[2]
        if max(0.0, min(a, b), min(c, d), min(e, f)) > min(max(a, b), max(c, d), max(e, f)):
            continue
        if second[node] == 0:
            for k in range(first[node], last[node]):
                one, other, third = corners_of(points, triangles, order[k])
                count += _crossed(q, way, one, other, third)
        else:
            stack[waiting], stack[waiting + 1] = second[node], node + 1
            waiting += 2
    return count


@njit(**OPTIONS)
def _crossed(q, way, a, b, c):  # type: ignore[no-untyped-def]
    """1 where a ray leaves through a triangle, -1 where it enters, else 0 (Moeller & Trumbore 1997)."""
    ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    px, py, pz = way[1] * vz - way[2] * vy, way[2] * vx - way[0] * vz, way[0] * vy - way[1] * vx
    over = ux * px + uy * py + uz * pz  # minus the way along the normal
    if over == 0:
        return 0
    tx, ty, tz = q[0] - a[0], q[1] - a[1], q[2] - a[2]
    rx, ry, rz = ty * uz - tz * uy, tz * ux - tx * uz, tx * uy - ty * ux
    at_b, at_c = (tx * px + ty * py + tz * pz) / over, (way[0] * rx + way[1] * ry + way[2] * rz) / over
    ahead = (vx * rx + vy * ry + vz * rz) / over
    if at_b < 0 or at_c < 0 or at_b + at_c > 1 or ahead < 0:
        return 0
    return 1 if over < 0 else -1


@njit(inline="always", **OPTIONS)
def _outwards(ray, q, boxes):  # type: ignore[no-untyped-def]
    """A ray with its longest part turned to where the box of all triangles is left soonest: it meets the fewest of them."""
    x = (2 * q[0] - boxes[0, 0] - boxes[0, 3]) / (boxes[0, 3] - boxes[0, 0])
    y = (2 * q[1] - boxes[0, 1] - boxes[0, 4]) / (boxes[0, 4] - boxes[0, 1])
    z = (2 * q[2] - boxes[0, 2] - boxes[0, 5]) / (boxes[0, 5] - boxes[0, 2])
    long, short, other = ray
    if abs(x) >= abs(y) and abs(x) >= abs(z):
        return math.copysign(long, x), short, other
    if abs(y) >= abs(z):
        return other, math.copysign(long, y), short
    return short, other, math.copysign(long, z)


@njit(**OPTIONS)
def inside(q, closed, points, triangles, order, second, first, last, boxes, far):  # type: ignore[no-untyped-def]
    """Is a point inside, whichever way the faces look? By two rays where the surface is closed; where they differ, or it is open, by the
    winding number."""
    if to_box(q, boxes, 0) > 0:
        return False
    if closed:
        count = _crossings(q, _outwards(RAY, q, boxes), points, triangles, order, second, first, last, boxes)
        if count == _crossings(q, _outwards(OTHER_RAY, q, boxes), points, triangles, order, second, first, last, boxes):
            return count != 0
    return abs(winding(q, points, triangles, order, second, first, last, far)) > 0.5


@njit(**OPTIONS)
def closest(queries, within, points, triangles, order, second, first, last, boxes, out, rows, shares):  # type: ignore[no-untyped-def]
    """Distance (Q,), triangle (Q,) and shares (Q, 2) for each query; `within` and -1 where nothing is nearer."""
    for k in range(len(queries)):
        row, squared, v, w = nearest(at(queries, k), within, points, triangles, order, second, first, last, boxes)
        out[k], rows[k], shares[k, 0], shares[k, 1] = math.sqrt(squared), row, v, w


@njit(**OPTIONS)
def windings(queries, points, triangles, order, second, first, last, far, out):  # type: ignore[no-untyped-def]
    for k in range(len(queries)):
        out[k] = winding(at(queries, k), points, triangles, order, second, first, last, far)


@njit(**OPTIONS)
def insides(queries, closed, points, triangles, order, second, first, last, boxes, far, out):  # type: ignore[no-untyped-def]
    for k in range(len(queries)):
        out[k] = inside(at(queries, k), closed, points, triangles, order, second, first, last, boxes, far)
