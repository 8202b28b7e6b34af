"""The compiled loops of `surface_distance`: fast marching over triangles that are known by their lengths."""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.geometry.heap import OPTIONS, empty, pop, push

BETTER = 1e-3  # cm: what is nearer by less is not gone into again


@njit(**OPTIONS)
def from_line(triangles, lengths, start, order, seeds, offsets, values):  # type: ignore[no-untyped-def]
    """Distances (N,) from a front that is at the vertices `seeds` (S,) after `offsets` (S,), and the value (N,) that each vertex takes over
    from where its shortest way began, of `values` (S,)."""
    count = len(start) - 1
    distance, taken, done = np.full(count, np.inf), np.zeros(count), np.zeros(count, np.bool_)
    heap_d, heap_v = empty()
    for k in range(len(seeds)):
        if offsets[k] < distance[seeds[k]]:
            distance[seeds[k]], taken[seeds[k]] = offsets[k], values[k]
            push(heap_d, heap_v, offsets[k], seeds[k])
    _grow(triangles, lengths, start, order, np.inf, False, distance, taken, done, [seeds[0]], heap_d, heap_v)
    return distance, taken


@njit(**OPTIONS)
def from_places(triangles, lengths, start, order, points, ring, ring_start, ring_order, rows, places, limit):  # type: ignore[no-untyped-def]
    """Distances (N,) up to `limit` to the nearest of `places` (P, 3) on the triangles `rows` (P,) of the mesh `ring` (T, 3), straight
    through space to the vertices round that triangle and from there along the surface."""
    count = len(start) - 1
    nearest, distance, done = np.full(count, np.inf), np.full(count, np.inf), np.zeros(count, np.bool_)
    nothing = np.zeros(count)
    for p in range(len(places)):
        heap_d, heap_v = empty()
        touched = [rows[p]]
        touched.pop()
        for corner in range(3):
            u = ring[rows[p], corner]
            for k in range(ring_start[u], ring_start[u + 1]):
                for c in range(3):
                    v = ring[ring_order[k], c]
                    if distance[v] == np.inf:
                        d = np.sqrt(((points[v] - places[p]) ** 2).sum())
                        distance[v] = d
                        touched.append(v)
                        push(heap_d, heap_v, d, v)
        _grow(triangles, lengths, start, order, limit, True, distance, nothing, done, touched, heap_d, heap_v)
        for v in touched:
            nearest[v] = min(nearest[v], distance[v])
            distance[v], done[v] = np.inf, False
    return nearest


@njit(**OPTIONS)
def _grow(triangles, lengths, start, order, limit, rounded, distance, taken, done, touched, heap_d, heap_v):  # type: ignore[no-untyped-def]
    """Let a front go on over the triangles, straight or `rounded` about one place, with what each vertex takes over; whom it reaches for
    the first time is put to `touched`."""
    while len(heap_v) > 0:
        d, v = pop(heap_d, heap_v)
        if done[v] or d > distance[v]:
            continue
        if d > limit:
            break
        done[v] = True
        for k in range(start[v], start[v + 1]):
            t = order[k]
            a = _corner(triangles, t, v)
            for step in (1, 2):
                c = (a + step) % 3
                b = 3 - a - c
                w, other = triangles[t, c], triangles[t, b]
                if done[w] and not rounded:  # near a place the second end of an edge may come after what it helps
                    continue
                better, share = d + lengths[t, b], 0.0
                if done[other]:
                    if rounded:
                        through, across = of_point(lengths[t, b], lengths[t, a], lengths[t, c], d, distance[other]), 0.0
                    else:
                        through, across = _of_plane(lengths[t, b], lengths[t, a], lengths[t, c], d, distance[other])
                    if through < better:
                        better, share = through, across
                if better < distance[w] - (BETTER if rounded else 0.0):
                    if distance[w] == np.inf:
                        touched.append(w)
                    distance[w], done[w] = better, False
                    taken[w] = taken[v] * (1 - share) + taken[other] * share
                    push(heap_d, heap_v, better, w)


@njit(inline="always", **OPTIONS)
def _corner(triangles, t, v):  # type: ignore[no-untyped-def]
    return 0 if triangles[t, 0] == v else 1 if triangles[t, 1] == v else 2


@njit(**OPTIONS)
def _of_plane(to_a, to_b, base, at_a, at_b):  # type: ignore[no-untyped-def]
    """When a straight front that is at a and b comes to the third corner, at `to_a` and `to_b` from them and they `base` apart, and which
    share of b it takes over; infinite where it does not come through the triangle (Kimmel & Sethian 1998)."""
    aa, bb, ab = to_a * to_a, to_b * to_b, (to_a * to_a + to_b * to_b - base * base) / 2
    area = aa * bb - ab * ab
    if area < 1e-18 * aa * bb + 1e-30:
        return np.inf, 0.0
    p, q, r = bb / area, aa / area, -ab / area  # the inverse of the corner's metric
    second = p + q + 2 * r
    first = (p + r) * at_a + (q + r) * at_b
    root = first * first - second * (p * at_a * at_a + 2 * r * at_a * at_b + q * at_b * at_b - 1)
    if root < 0:
        return np.inf, 0.0
    found = (first + np.sqrt(root)) / second
    of_a, of_b = p * (found - at_a) + r * (found - at_b), r * (found - at_a) + q * (found - at_b)
    if of_a < 0 or of_b < 0:
        return np.inf, 0.0
    return found, of_b / (of_a + of_b)


@njit(**OPTIONS)
def of_point(to_a, to_b, base, at_a, at_b):  # type: ignore[no-untyped-def]
    """The same of a round front: its middle lies on the far side of the edge from a to b, laid flat (Novotni & Klein 2002)."""
    if base < 1e-12:
        return np.inf
    x = (base * base + at_a * at_a - at_b * at_b) / (2 * base)
    below = at_a * at_a - x * x
    if below < 0:
        return np.inf
    y = np.sqrt(below)
    u = (base * base + to_a * to_a - to_b * to_b) / (2 * base)
    v = np.sqrt(max(to_a * to_a - u * u, 0.0))
    crossing = x + (u - x) * y / max(v + y, 1e-12)
    if crossing < 0 or crossing > base:
        return np.inf
    return np.sqrt((u - x) ** 2 + (v + y) ** 2)
