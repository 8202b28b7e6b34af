"""The compiled loops of `reach`: fast marching over triangles, as far as a radius."""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.geometry.fronts import of_point
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
                beside = _apart(points[w], points[v])
                better = d + beside
                if done[other]:
                    base = _apart(points[v], points[other])
                    better = min(better, of_point(beside, _apart(points[w], points[other]), base, d, distance[other]))
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
