"""The compiled loops of `strain`: how a posed mesh stands to itself at rest, triangle by triangle and ring by ring."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from tightseam.contact.primitives import OPTIONS, area_normal, corners_of

STILL = 1e-5  # cm below which a ring has not stirred: the noise of 32 bits
MOST_SQUARES = 24  # that a matrix is taken to, until all but its largest eigenvector are gone,
GONE = 1e-10  # which is when so little of it is left


@njit(**OPTIONS)
def _squared(m, out):  # type: ignore[no-untyped-def]
    """A symmetric matrix (4, 4) of trace 1 times itself, scaled so that its trace is 1 again; what that was before: 1 for one of rank 1."""
    trace = 0.0
    for i in range(4):
        for j in range(i, 4):
            out[i, j] = m[i, 0] * m[0, j] + m[i, 1] * m[1, j] + m[i, 2] * m[2, j] + m[i, 3] * m[3, j]
        trace += out[i, i]
    for i in range(4):
        for j in range(i, 4):
            out[i, j] /= trace
            out[j, i] = out[i, j]
    return trace


@njit(**OPTIONS)
def _turn(s, m, other, out):  # type: ignore[no-untyped-def]
    """The rotation (3, 3) nearest to the sums `s` (3, 3) of products of rest and posed arms: the largest eigenvector of a matrix that
    holds them is its quaternion (Horn 1987). `m` and `other` (4, 4) are room to work in."""
    size = 0.0
    for i in range(3):
        for j in range(3):
            size += s[i, j] * s[i, j]
    shift = math.sqrt(3 * size) + 1e-30  # no eigenvalue is lower than minus that
    m[0, 0], m[1, 1] = s[0, 0] + s[1, 1] + s[2, 2] + shift, s[0, 0] - s[1, 1] - s[2, 2] + shift
    m[2, 2], m[3, 3] = -s[0, 0] + s[1, 1] - s[2, 2] + shift, -s[0, 0] - s[1, 1] + s[2, 2] + shift
    m[0, 1], m[0, 2], m[0, 3] = s[1, 2] - s[2, 1], s[2, 0] - s[0, 2], s[0, 1] - s[1, 0]
    m[1, 2], m[1, 3], m[2, 3] = s[0, 1] + s[1, 0], s[2, 0] + s[0, 2], s[1, 2] + s[2, 1]
    m[1, 0], m[2, 0], m[3, 0], m[2, 1], m[3, 1], m[3, 2] = m[0, 1], m[0, 2], m[0, 3], m[1, 2], m[1, 3], m[2, 3]
    trace = 4 * shift
    for i in range(4):
        for j in range(4):
            m[i, j] /= trace
    for _ in range(MOST_SQUARES // 2):
        _squared(m, other)
        if _squared(other, m) > 1 - GONE:
            break
    longest = 0
    for k in range(1, 4):
        if m[k, k] > m[longest, longest]:
            longest = k
    w, x, y, z = m[longest, 0], m[longest, 1], m[longest, 2], m[longest, 3]
    length = math.sqrt(w * w + x * x + y * y + z * z)
    w, x, y, z = w / length, x / length, y / length, z / length
    out[0, 0], out[0, 1], out[0, 2] = 1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)
    out[1, 0], out[1, 1], out[1, 2] = 2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)
    out[2, 0], out[2, 1], out[2, 2] = 2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)


@njit(**OPTIONS)
def _turn_ring(points, rest, starts, others, v, sums, m, other, turns):  # type: ignore[no-untyped-def]
    stirred = False
    for i in range(3):
        for j in range(3):
            sums[i, j] = 0.0
    for k in range(starts[v], starts[v + 1]):
        w = others[k]
        for j in range(3):
            now = points[w, j] - points[v, j]
            stirred |= abs(now - (rest[w, j] - rest[v, j])) > STILL
            for i in range(3):
                sums[i, j] += (rest[w, i] - rest[v, i]) * now
    if stirred:
        _turn(sums, m, other, turns[v])
    else:
        for i in range(3):
            for j in range(3):
                turns[v, i, j] = 1.0 if i == j else 0.0


@njit(**OPTIONS)
def _by_edges(points, rest, corners):  # type: ignore[no-untyped-def]
    """How many times as long as at rest the side of a triangle is that is most so, and how many times as short."""
    longer, shorter = 0.0, math.inf
    for c in range(3):
        v, w = corners[c], corners[(c + 1) % 3]
        now, was = 0.0, 0.0
        for i in range(3):
            now += (points[w, i] - points[v, i]) ** 2
            was += (rest[w, i] - rest[v, i]) ** 2
        if was > 0:
            ratio = math.sqrt(now / was)
            longer, shorter = max(longer, ratio), min(shorter, ratio)
    return longer, 1 / max(shorter, 1e-6)


@njit(**OPTIONS)
def strain(points, rest, rings, faces, rows, vertices, out):  # type: ignore[no-untyped-def]
    """For the triangles `rows` (K,) how many times as long (`stretch`) and as short (`squeeze`) as at rest they are the way that is most
    so, of slivers their sides, and whether they have turned against their rings; for `vertices` (L,) how far they stand out of their
    ring (`crumple`).

    `points` posed and at `rest` are (N, 3). `rings` are starts (N + 1,) and others of each vertex' neighbours, what the middle of these is
    off it at rest (N, 3), and their mean distance (N,). `faces` are triangles (T, 3), the inverse of each laid flat at rest (T, 3), its
    area normal there (T, 3), and how much of that has to be left when the turns of its three rings are averaged (T,). What is found goes
    to `out`, in the order it is named.
    """
    starts, others, out_of_ring, edge = rings
    triangles, flat, normals, least = faces
    stretch, squeeze, turned, crumple = out
    turns, known = np.empty((len(points), 3, 3)), np.zeros(len(points), np.bool_)
    sums, m, other = np.empty((3, 3)), np.empty((4, 4)), np.empty((4, 4))
    for k in range(len(rows)):
        t = rows[k]
        ex, ey, ez = 0.0, 0.0, 0.0
        for c in range(3):
            v = triangles[t, c]
            if not known[v]:
                _turn_ring(points, rest, starts, others, v, sums, m, other, turns)
                known[v] = True
            ex += turns[v, 0, 0] * normals[t, 0] + turns[v, 0, 1] * normals[t, 1] + turns[v, 0, 2] * normals[t, 2]
            ey += turns[v, 1, 0] * normals[t, 0] + turns[v, 1, 1] * normals[t, 1] + turns[v, 1, 2] * normals[t, 2]
            ez += turns[v, 2, 0] * normals[t, 0] + turns[v, 2, 1] * normals[t, 1] + turns[v, 2, 2] * normals[t, 2]
        a, b, c_ = corners_of(points, triangles, t)
        x, y, z = area_normal(a, b, c_)
        turned[k] = x * ex + y * ey + z * ez < 0 and ex * ex + ey * ey + ez * ez > 9 * least[t] * least[t]
        if normals[t, 0] ** 2 + normals[t, 1] ** 2 + normals[t, 2] ** 2 < least[t] * least[t]:
            stretch[k], squeeze[k] = _by_edges(points, rest, triangles[t])
            continue
        f = (b[0] - a[0]) * flat[t, 0], (b[1] - a[1]) * flat[t, 0], (b[2] - a[2]) * flat[t, 0]
        g = (
            (b[0] - a[0]) * flat[t, 1] + (c_[0] - a[0]) * flat[t, 2],
            (b[1] - a[1]) * flat[t, 1] + (c_[1] - a[1]) * flat[t, 2],
            (b[2] - a[2]) * flat[t, 1] + (c_[2] - a[2]) * flat[t, 2],
        )
        ff, gg = f[0] * f[0] + f[1] * f[1] + f[2] * f[2], g[0] * g[0] + g[1] * g[1] + g[2] * g[2]
        fg = f[0] * g[0] + f[1] * g[1] + f[2] * g[2]
        middle, reach = (ff + gg) / 2, math.sqrt((ff - gg) * (ff - gg) / 4 + fg * fg)
        stretch[k] = math.sqrt(middle + reach)
        squeeze[k] = 1 / math.sqrt(max(middle - reach, 1e-12))
    for k in range(len(vertices)):
        v = vertices[k]
        if not known[v]:
            _turn_ring(points, rest, starts, others, v, sums, m, other, turns)
            known[v] = True
        count = starts[v + 1] - starts[v]
        off_ring = 0.0
        for i in range(3):
            mean = 0.0
            for j in range(starts[v], starts[v + 1]):
                mean += points[others[j], i]
            was = turns[v, i, 0] * out_of_ring[v, 0] + turns[v, i, 1] * out_of_ring[v, 1] + turns[v, i, 2] * out_of_ring[v, 2]
            off = points[v, i] - mean / max(count, 1) - was
            off_ring += off * off
        crumple[k] = math.sqrt(off_ring) / edge[v] if count else 0.0
