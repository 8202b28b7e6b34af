"""The compiled loops of `tree`: a tree of boxes over triangles, refitted for each pose; nearest triangles and winding numbers.

Nodes stand in preorder: the first child of a node follows it, `second` (M,) is the other one, 0 for a leaf, which holds the triangles
`order[first[k]:last[k]]`. `boxes` (M, 6) are lowest and highest corners. `far` (M, 7) is what a node looks like from far away: the sum of
its area normals, their middle, and how far its triangles reach from that.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

OPTIONS = {"cache": True, "nogil": True, "boundscheck": False, "error_model": "numpy"}
DEEPEST = 64  # nodes that wait on the way down
LEAF = 4  # triangles
FAR = 3.0  # times its reach from which a node's dipole stands for its triangles
RAYS = np.array([[0.36, 0.48, 0.80], [-0.56, 0.31, -0.77]])  # any two ways that no edge of a mesh is likely to lie along


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
                a, b, c = points[triangles[order[k], 0]], points[triangles[order[k], 1]], points[triangles[order[k], 2]]
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
                box, seen = boxes[child], far[child]
                low0, low1, low2 = min(low0, box[0]), min(low1, box[1]), min(low2, box[2])
                high0, high1, high2 = max(high0, box[3]), max(high1, box[4]), max(high2, box[5])
                nx, ny, nz = nx + seen[0], ny + seen[1], nz + seen[2]
                size = float(last[child] - first[child])  # the middle may stand anywhere; by count it stands near enough
                area += size
                cx, cy, cz = cx + size * seen[3], cy + size * seen[4], cz + size * seen[5]
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
def to_box(q, box):  # type: ignore[no-untyped-def]
    """Squared distance of a point to a box; 0 inside."""
    found = 0.0
    for c in range(3):
        off = max(box[c] - q[c], 0.0, q[c] - box[c + 3])
        found += off * off
    return found


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


@njit(**OPTIONS)
def nearest(q, within, points, triangles, order, second, first, last, boxes):  # type: ignore[no-untyped-def]
    """The nearest triangle nearer than `within` (its row; -1 for none), its squared distance, and the shares of its last two corners."""
    return nearest_facing(q, within, False, q, points, triangles, order, second, first, last, boxes)


@njit(**OPTIONS)
def nearest_facing(q, within, against, way, points, triangles, order, second, first, last, boxes):  # type: ignore[no-untyped-def]
    """The same; with `against` of those triangles alone that look against a direction `way` (3,)."""
    best, found, v, w = within * within, -1, 0.0, 0.0
    stack, ahead = np.empty(DEEPEST, np.int64), np.empty(DEEPEST)
    stack[0], ahead[0], waiting = 0, to_box(q, boxes[0]), 1
    while waiting > 0:
        waiting -= 1
        node = stack[waiting]
        if ahead[waiting] >= best:
            continue
        if second[node] == 0:
            for k in range(first[node], last[node]):
                t = triangles[order[k]]
                a, b, c = points[t[0]], points[t[1]], points[t[2]]
                if against and not _looks_against(way, a, b, c):
                    continue
                d, s, r = to_triangle(q, a, b, c)
                if d < best:
                    best, found, v, w = d, order[k], s, r
            continue
        one, other = node + 1, second[node]
        d_one, d_other = to_box(q, boxes[one]), to_box(q, boxes[other])
        if d_one < d_other:
            one, other, d_one, d_other = other, one, d_other, d_one
        stack[waiting], ahead[waiting] = one, d_one
        stack[waiting + 1], ahead[waiting + 1] = other, d_other
        waiting += 2
    return found, best, v, w


@njit(inline="always", **OPTIONS)
def _looks_against(way, a, b, c):  # type: ignore[no-untyped-def]
    ux, uy, uz, vx, vy, vz = b[0] - a[0], b[1] - a[1], b[2] - a[2], c[0] - a[0], c[1] - a[1], c[2] - a[2]
    return way[0] * (uy * vz - uz * vy) + way[1] * (uz * vx - ux * vz) + way[2] * (ux * vy - uy * vx) < 0


@njit(**OPTIONS)
def winding(q, points, triangles, order, second, first, last, far):  # type: ignore[no-untyped-def]
    """Generalised winding number at a point: dipoles from afar (Barill et al. 2018), else solid angles (Van Oosterom & Strackee 1983)."""
    total = 0.0
    stack = np.empty(DEEPEST, np.int64)
    stack[0], waiting = 0, 1
    while waiting > 0:
        waiting -= 1
        node = stack[waiting]
        seen = far[node]
        x, y, z = seen[3] - q[0], seen[4] - q[1], seen[5] - q[2]
        away = math.sqrt(x * x + y * y + z * z)
        if away > FAR * seen[6]:
            total += (x * seen[0] + y * seen[1] + z * seen[2]) / (away * away * away)
        elif second[node] == 0:
            for k in range(first[node], last[node]):
                t = triangles[order[k]]
                total += _solid_angle(q, points[t[0]], points[t[1]], points[t[2]])
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
        box = boxes[node]
        enters, leaves = 0.0, np.inf
        for c in range(3):
            one, other = (box[c] - q[c]) / way[c], (box[c + 3] - q[c]) / way[c]
            enters, leaves = max(enters, min(one, other)), min(leaves, max(one, other))
        if enters > leaves:
            continue
        if second[node] == 0:
            for k in range(first[node], last[node]):
                t = triangles[order[k]]
                count += _crossed(q, way, points[t[0]], points[t[1]], points[t[2]])
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


@njit(**OPTIONS)
def inside(q, closed, points, triangles, order, second, first, last, boxes, far):  # type: ignore[no-untyped-def]
    """Is a point inside, whichever way the faces look? By two rays where the surface is closed; where they differ, or it is open, by the
    winding number."""
    if to_box(q, boxes[0]) > 0:
        return False
    if closed:
        count = _crossings(q, RAYS[0], points, triangles, order, second, first, last, boxes)
        if count == _crossings(q, RAYS[1], points, triangles, order, second, first, last, boxes):
            return count != 0
    return abs(winding(q, points, triangles, order, second, first, last, far)) > 0.5


@njit(**OPTIONS)
def closest(queries, within, points, triangles, order, second, first, last, boxes, out, rows, shares):  # type: ignore[no-untyped-def]
    """Distance (Q,), triangle (Q,) and shares (Q, 2) for each query; `within` and -1 where nothing is nearer."""
    for k in range(len(queries)):
        row, squared, v, w = nearest(queries[k], within, points, triangles, order, second, first, last, boxes)
        out[k], rows[k], shares[k, 0], shares[k, 1] = math.sqrt(squared), row, v, w


@njit(**OPTIONS)
def windings(queries, points, triangles, order, second, first, last, far, out):  # type: ignore[no-untyped-def]
    for k in range(len(queries)):
        out[k] = winding(queries[k], points, triangles, order, second, first, last, far)


@njit(**OPTIONS)
def insides(queries, closed, points, triangles, order, second, first, last, boxes, far, out):  # type: ignore[no-untyped-def]
    for k in range(len(queries)):
        out[k] = inside(queries[k], closed, points, triangles, order, second, first, last, boxes, far)


@njit(**OPTIONS)
def least(queries, path, reach, points, triangles, order, second, first, last, boxes):  # type: ignore[no-untyped-def]
    """The query nearest to the surface and its distance, at most `reach`. Distance changes no faster than one moves: along a `path` (Q,)
    on which neighbours are near only those are looked at that can still be the nearest."""
    best, found = reach, path[0]
    at, least_there = queries[path[0]], -np.inf  # the last that was looked at, and its distance at the least
    for k in path:
        q = queries[k]
        moved = math.sqrt((q[0] - at[0]) ** 2 + (q[1] - at[1]) ** 2 + (q[2] - at[2]) ** 2)
        if least_there - moved >= best:
            continue
        row, squared, _, _ = nearest(q, best, points, triangles, order, second, first, last, boxes)
        at, least_there = q, math.sqrt(squared)
        if row >= 0:
            best, found = least_there, k
    return found, best
