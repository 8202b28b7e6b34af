"""The compiled loops of `reach`: fast marching over triangles, as far as a radius."""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.geometry.heap import OPTIONS, empty, pop, push


@njit(inline="always", **OPTIONS)
def _apart(a, b):  # type: ignore[no-untyped-def]
    return np.sqrt((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2)


@njit(**OPTIONS)
def march(points, triangles, start, order, seed, place, radius, distance, done):  # type: ignore[no-untyped-def]
    """Vertices and distances within the radius. `distance` (N,) is infinite and `done` (N,) false before and after."""
    touched = [seed]
    heap_d, heap_v = empty()
    first = _apart(points[seed], place)
    distance[seed] = first
    push(heap_d, heap_v, first, seed)
    for k in range(start[seed], start[seed + 1]):
        for c in range(3):
            v = triangles[order[k], c]
            d = _apart(points[v], place)
            if d < distance[v]:
                if distance[v] == np.inf:
                    touched.append(v)
                distance[v] = d
                push(heap_d, heap_v, d, v)
    while len(heap_v) > 0:
        d, v = pop(heap_d, heap_v)
        if done[v] or d > distance[v]:
            continue
        if d > radius:
            break
        done[v] = True
        for k in range(start[v], start[v + 1]):
            t = order[k]
            for c in range(3):
                w = triangles[t, c]
                if w == v or done[w]:
                    continue
                other = triangles[t, 0] + triangles[t, 1] + triangles[t, 2] - v - w
                better = d + _apart(points[w], points[v])
                if done[other]:
                    better = min(better, _across(points[w], points[v], points[other], d, distance[other]))
                if better < distance[w]:
                    if distance[w] == np.inf:
                        touched.append(w)
                    distance[w] = better
                    push(heap_d, heap_v, better, w)
    count = 0
    for v in touched:
        if distance[v] <= radius:
            count += 1
    near = np.empty(count, np.int64)
    far = np.empty(count)
    count = 0
    for v in touched:
        if distance[v] <= radius:
            near[count] = v
            far[count] = distance[v]
            count += 1
        distance[v] = np.inf
        done[v] = False
    return near, far


@njit(**OPTIONS)
def _across(corner, a, b, to_a, to_b):  # type: ignore[no-untyped-def]
    """The distance of a corner of a triangle from a source whose distances to the other two are known, the triangle laid flat.

    The source is put on the far side of the edge from a to b; infinite where the straight way does not cross that edge.
    """
    length = _apart(a, b)
    if length < 1e-12:
        return np.inf
    # the source in the plane: a at the origin, b on the x axis, the source below it
    x = (length * length + to_a * to_a - to_b * to_b) / (2 * length)
    y2 = to_a * to_a - x * x
    if y2 < 0:
        return np.inf
    y = -np.sqrt(y2)
    to_corner = _apart(a, corner)
    u = (length * length + to_corner * to_corner - _apart(b, corner) ** 2) / (2 * length)
    v = np.sqrt(max(to_corner * to_corner - u * u, 0.0))
    crossing = x + (u - x) * (-y) / max(v - y, 1e-12)
    if crossing < 0 or crossing > length:
        return np.inf
    return np.sqrt((u - x) ** 2 + (v - y) ** 2)
