"""The compiled inner loops of lids and eye relief."""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.deform.kernels_base import BLOCK, OPTIONS

SMALL = np.float32(1.2)  # radians: lids hardly turn farther


@njit(inline="always", **OPTIONS)
def _arctan2(y, x):  # type: ignore[no-untyped-def]
    """arctan2 to 2e-8 and the rounding of float32 (Abramowitz & Stegun 4.4.49), without a call into the library and without a jump."""
    wide, tall = abs(x), abs(y)
    q = min(wide, tall) / max(wide, tall, np.float32(1e-30))
    s = q * q
    high = np.float32(-0.07528964) + s * (np.float32(0.0429096138) + s * (np.float32(-0.0161657367) + s * np.float32(0.0028662257)))
    low = np.float32(0.1999355085) + s * (np.float32(-0.1420889944) + s * (np.float32(0.1065626393) + s * high))
    a = q * (np.float32(1) + s * (np.float32(-0.3333314528) + s * low))
    a = np.float32(np.pi / 2) - a if tall > wide else a
    a = np.float32(np.pi) - a if x < 0 else a
    return -a if y < 0 else a


@njit(inline="always", **OPTIONS)
def _small_cos_sin(angle):  # type: ignore[no-untyped-def]
    """Cosine and sine of a SMALL angle from their series, which float32 cannot tell from them."""
    s = angle * angle
    c = np.float32(1 / 24) + s * (np.float32(-1 / 720) + s * (np.float32(1 / 40320) - s * np.float32(1 / 3628800)))
    t = np.float32(1 / 120) + s * (np.float32(-1 / 5040) + s * np.float32(1 / 362880))
    return np.float32(1) + s * (np.float32(-0.5) + s * c), angle * (np.float32(1) + s * (np.float32(-1 / 6) + s * t))


@njit(inline="always", **OPTIONS)
def _cos_sin(angle):  # type: ignore[no-untyped-def]
    return _small_cos_sin(angle) if abs(angle) <= SMALL else (np.cos(angle), np.sin(angle))


@njit(inline="always", **OPTIONS)
def _turned(point, centre, axes, slide, angle):  # type: ignore[no-untyped-def]
    """Turn a point in place about the eye: by `slide` towards the outer corner, then by `angle` upwards (radians)."""
    dx, dy, dz = point[0] - centre[0], point[1] - centre[1], point[2] - centre[2]
    x = dx * axes[0, 0] + dy * axes[0, 1] + dz * axes[0, 2]
    y = dx * axes[1, 0] + dy * axes[1, 1] + dz * axes[1, 2]
    z = dx * axes[2, 0] + dy * axes[2, 1] + dz * axes[2, 2]
    if slide != 0:
        c, s = _cos_sin(slide)
        x, z = x * c + z * s, z * c - x * s
    c, s = _cos_sin(angle)
    y, z = y * c + z * s, z * c - y * s
    for k in range(3):
        point[k] = centre[k] + x * axes[0, k] + y * axes[1, k] + z * axes[2, k]


@njit(inline="always", **OPTIONS)
def _cosines_sines(out, angles, count):  # type: ignore[no-untyped-def]
    """Cosines and sines, `out` (2, K): from their series as vector code, then those of the few that are large."""
    large = False
    for k in range(count):
        out[0, k], out[1, k] = _small_cos_sin(angles[k])
        large |= abs(angles[k]) > SMALL
    if large:
        for k in range(count):
            if abs(angles[k]) > SMALL:
                out[0, k], out[1, k] = np.cos(angles[k]), np.sin(angles[k])


@njit(inline="always", **OPTIONS)
def _slid(at, turn, angle, points, vertices, lid, share, axes, centre, inner, length, slide):  # type: ignore[no-untyped-def]
    """Where vertices (K,) are, `at` (3, K) along, up and forward of the `centre`, once they have slid by `angle` (K,)."""
    for k in range(vertices.size):
        v = vertices[k]
        at[0, k], at[1, k], at[2, k] = points[v, 0] - centre[0], points[v, 1] - centre[1], points[v, 2] - centre[2]
    for k in range(vertices.size):  # a loop of its own, so that it becomes vector code
        x, y, z = at[0, k], at[1, k], at[2, k]
        at[0, k] = x * axes[0, 0] + y * axes[0, 1] + z * axes[0, 2]
        at[1, k] = x * axes[1, 0] + y * axes[1, 1] + z * axes[1, 2]
        at[2, k] = x * axes[2, 0] + y * axes[2, 1] + z * axes[2, 2]
    upper, lower = np.float32(slide[0]), np.float32(slide[1])
    for k in range(vertices.size):
        t = min(max((at[0, k] - inner) / length, np.float32(0)), np.float32(1))
        angle[k] = (lower if lid[k] else upper) * share[k] * np.float32(4) * t * (np.float32(1) - t)  # the corners stay where they are
    if upper != 0 or lower != 0:
        _cosines_sines(turn, angle, vertices.size)
        for k in range(vertices.size):
            x, z = at[0, k], at[2, k]
            at[0, k], at[2, k] = x * turn[0, k] + z * turn[1, k], z * turn[0, k] - x * turn[1, k]


@njit(inline="always", **OPTIONS)
def _read_margins(way, angle, slope, at, start, inner, length):  # type: ignore[no-untyped-def]
    """Both margins as they stand `at` (3, M): the way (M,) between the corners, always rising, the angle (M,) there and how fast it
    grows."""
    for m in range(way.size):
        way[m] = (at[0, m] - inner) / length
        angle[m] = _arctan2(at[1, m], at[2, m])
        if m > 0 and m != start:
            way[m] = max(way[m], way[m - 1] + np.float32(1e-6))
            slope[m - 1] = (angle[m] - angle[m - 1]) / (way[m] - way[m - 1])


@njit(inline="always", **OPTIONS)
def _angle_over(own, m, way, angle, slope):  # type: ignore[no-untyped-def]
    """The angle of a margin at a way within the stretch that begins in row m."""
    return angle[m] + (own - way[m]) * slope[m]


@njit(inline="always", **OPTIONS)
def _short_of_closed(short, own, cell, elsewhere, lid, near, closed, way, angle, slope, start):  # type: ignore[no-untyped-def]
    """By what angle (K,) the margin at each `own` way (K,) is `short` of the closed line; level beyond the corners.

    `cell` and `elsewhere` (K,) are room. First all as if they stood over the stretch they stand over in the neutral, `near` (K,), then
    the few that do not: a search for each is jumps that the processor cannot foresee."""
    one, row, last = np.uint32(1), np.int32(closed.shape[1]), np.int32(closed.shape[1] - 2)
    upper_in, upper_out, lower_in, lower_out = way[0], way[start - 1], way[start], way[way.size - 1]
    for k in range(near.size):
        place = min(max(own[k], np.float32(0)), np.float32(1)) * np.float32(last + 1)
        i = min(np.int32(place), last)
        short[k], cell[k] = place - np.float32(i), i + (row if lid[k] else np.int32(0))
        own[k] = min(max(own[k], lower_in if lid[k] else upper_in), lower_out if lid[k] else upper_out)
    flat = closed.reshape(-1)
    for k in range(near.size):
        c = np.uint32(cell[k])
        short[k] = flat[c] + (flat[c + one] - flat[c]) * short[k]
    count = 0
    for k in range(near.size):
        m = np.uint32(near[k])
        short[k] -= _angle_over(own[k], m, way, angle, slope)
        elsewhere[count] = k
        count += (own[k] < way[m]) | (own[k] > way[m + one])
    for e in range(count):
        k = elsewhere[e]
        m = near[k]
        found = _angle_over(own[k], m, way, angle, slope)
        while way[m] > own[k]:
            m -= 1
        while way[m + 1] < own[k]:
            m += 1
        short[k] += found - _angle_over(own[k], m, way, angle, slope)


@njit(**OPTIONS)
def close_lids(  # type: ignore[no-untyped-def]
    points, vertices, lid, share, near, margin_rows, margin_start, closed, axes, centre, inner, length, lashes, lash_rows, closing, slide
):  # fmt: skip
    """Turn lid `vertices` about the axis through their corners, to the closed line by `closing` (2,) of upper and lower lid, and `lashes`
    as the vertices in their `lash_rows`, rising, turn.

    `lid` (K,) is 0 for the upper, 1 for the lower. `axes` (3, 3) are outwards along that axis, up and forward; `inner` and `length` give
    the way between the corners, `closed` (2, T) the angles to which upper and lower lid close over it. The margins, `margin_rows` of the
    upper from 0 and of the lower from `margin_start`, are read as they stand, slid sideways by `slide` (2,) radians; `near` (K,) is where
    among them each vertex stands in the neutral.
    """
    if closing[0] == 0 and closing[1] == 0 and slide[0] == 0 and slide[1] == 0:
        return
    rows = margin_rows.size
    margin_at, margin_turn, margin_slide = np.empty((3, rows), np.float32), np.empty((2, rows), np.float32), np.empty(rows, np.float32)
    way, now, slope = np.empty((3, rows), np.float32)
    own_rows, own_lid, own_share = np.empty(rows, vertices.dtype), np.empty(rows, lid.dtype), np.empty(rows, share.dtype)
    for m in range(rows):
        own_rows[m], own_lid[m], own_share[m] = vertices[margin_rows[m]], lid[margin_rows[m]], share[margin_rows[m]]
    _slid(margin_at, margin_turn, margin_slide, points, own_rows, own_lid, own_share, axes, centre, inner, length, slide)
    _read_margins(way, now, slope, margin_at, margin_start, inner, length)
    at, turn = np.empty((3, BLOCK), np.float32), np.empty((2, BLOCK), np.float32)  # used over and over: they stay in the first cache
    slides, angles, ways = np.empty((3, BLOCK), np.float32)
    cells, elsewhere = np.empty(BLOCK, np.int32), np.empty(BLOCK, np.int32)
    upper, lower, lash = np.float32(closing[0]), np.float32(closing[1]), 0
    for start in range(0, vertices.size, BLOCK):
        stop = min(start + BLOCK, vertices.size)
        n, own, of, shares = stop - start, vertices[start:stop], lid[start:stop], share[start:stop]
        _slid(at, turn, slides, points, own, of, shares, axes, centre, inner, length, slide)
        for k in range(n):
            ways[k] = (at[0, k] - inner) / length
        _short_of_closed(angles, ways, cells, elsewhere, of, near[start:stop], closed, way, now, slope, margin_start)
        for k in range(n):
            angles[k] *= (lower if of[k] else upper) * shares[k]
        _cosines_sines(turn, angles, n)
        for k in range(n):
            x, y, z = at[0, k], at[1, k], at[2, k]
            y, z = y * turn[0, k] + z * turn[1, k], z * turn[0, k] - y * turn[1, k]
            at[0, k] = centre[0] + x * axes[0, 0] + y * axes[1, 0] + z * axes[2, 0]
            at[1, k] = centre[1] + x * axes[0, 1] + y * axes[1, 1] + z * axes[2, 1]
            at[2, k] = centre[2] + x * axes[0, 2] + y * axes[1, 2] + z * axes[2, 2]
        for k in range(n):
            v = own[k]
            points[v, 0], points[v, 1], points[v, 2] = at[0, k], at[1, k], at[2, k]
        while lash < lashes.size and lash_rows[lash] < stop:
            k = lash_rows[lash] - start
            _turned(points[lashes[lash]], centre, axes, slides[k], angles[k])
            lash += 1


@njit(**OPTIONS)
def relieve(  # type: ignore[no-untyped-def]
    points, vertices, amount, clearance, settle, swell, lid, profile, followers, roots, closing, turn, centre
):
    """Move `vertices` along rays from the posed eye's `centre` (3,): out to their clearance, in by `settle` at most; and `followers` as
    the vertex in their row of them, `roots`, rising.

    `turn` (3, 3) is the eye's rotation, `profile` (181, A) its radius by degrees from +Z and angle about it. The clearance grows by
    `swell` (K,) as the lid of that number, `lid` (K,), -1 for none, closes by `closing` (2 E,).
    """
    rows, columns = profile.shape
    per_degree = np.float32(180.0 / np.pi)
    per_column = np.float32(columns / (2.0 * np.pi))
    r, c = turn.astype(np.float32), centre.astype(np.float32)
    closed = np.zeros(closing.size + 1, np.float32)  # the first for those of no lid
    for e in range(closing.size):
        t = min(max(closing[e], 0.0), 1.0)
        closed[e + 1] = t * (2.0 - t)  # most of the swell is there half-way
    flat, wide, last, one = profile.reshape(-1), np.int32(columns), np.int32(rows - 2), np.int32(1)
    at = np.empty((4, BLOCK), np.float32)  # from the centre, and how far that is
    place = np.empty((2, BLOCK), np.float32)  # in the profile; then the eye's radius there, and how far the lid is closed
    cells = np.empty((2, BLOCK), np.int32)  # of the profile on both sides of that place
    follower = 0
    for start in range(0, vertices.size, BLOCK):
        stop = min(start + BLOCK, vertices.size)
        n, own, of = stop - start, vertices[start:stop], lid[start:stop]
        for k in range(n):
            v = own[k]
            at[0, k], at[1, k], at[2, k] = points[v, 0] - c[0], points[v, 1] - c[1], points[v, 2] - c[2]
        for k in range(n):
            x, y, z = at[0, k], at[1, k], at[2, k]
            ex = x * r[0, 0] + y * r[1, 0] + z * r[2, 0]
            ey = x * r[0, 1] + y * r[1, 1] + z * r[2, 1]
            ez = x * r[0, 2] + y * r[1, 2] + z * r[2, 2]
            at[3, k] = np.sqrt(x * x + y * y + z * z)
            place[0, k] = _arctan2(np.sqrt(ex * ex + ey * ey), ez) * per_degree
            around = _arctan2(ey, ex) * per_column
            place[1, k] = around + (np.float32(columns) if around < 0 else np.float32(0))
        for k in range(n):
            i, j = min(np.int32(place[0, k]), last), min(np.int32(place[1, k]), wide - one)
            place[0, k], place[1, k] = place[0, k] - np.float32(i), place[1, k] - np.float32(j)
            cells[0, k], cells[1, k] = i * wide + j, i * wide + (j + one if j + one < wide else np.int32(0))
        for k in range(n):
            a, b = np.uint32(cells[0, k]), np.uint32(cells[1, k])
            near = flat[a] + (flat[b] - flat[a]) * place[1, k]
            a, b = a + np.uint32(columns), b + np.uint32(columns)
            far = flat[a] + (flat[b] - flat[a]) * place[1, k]
            place[0, k] = near + (far - near) * place[0, k]
            place[1, k] = closed[np.uint32(of[k] + one)]
        amounts, apart, most, grows = amount[start:stop], clearance[start:stop], settle[start:stop], swell[start:stop]
        for k in range(n):
            lack = place[0, k] + apart[k] + grows[k] * place[1, k] - at[3, k]
            push = amounts[k] * max(lack, -most[k]) / at[3, k]
            at[0, k], at[1, k], at[2, k] = at[0, k] * push, at[1, k] * push, at[2, k] * push
        for k in range(n):
            v = own[k]
            points[v, 0] += at[0, k]
            points[v, 1] += at[1, k]
            points[v, 2] += at[2, k]
        while follower < followers.size and roots[follower] < stop:
            v, k = followers[follower], roots[follower] - start
            points[v, 0] += at[0, k]
            points[v, 1] += at[1, k]
            points[v, 2] += at[2, k]
            follower += 1


@njit(**OPTIONS)
def add_between(points, rows, lid, closings, path, gazes, closing, towards):  # type: ignore[no-untyped-def]
    """Add to points `rows` (K,) what lies straight between two `closings` (S,) of a `path` (S, K, 3), where the lid (K,) of each, 0 or 1,
    closes by `closing` (2,), below the first the first way backwards; and of each of `gazes` (G, S, K, 3), there not beyond the first, as
    much as is looked `towards` it (G,)."""
    low, way = np.empty(2, np.int64), np.empty(2, np.float32)
    for side in range(2):
        s = 0
        while s < closings.size - 2 and closings[s + 1] <= closing[side]:
            s += 1
        low[side], way[side] = s, min((closing[side] - closings[s]) / (closings[s + 1] - closings[s]), 1.0)
    for k in range(rows.size):
        s, w = low[lid[k]], way[lid[k]]
        for axis in range(3):
            points[rows[k], axis] += path[s, k, axis] + w * (path[s + 1, k, axis] - path[s, k, axis])
    for g in range(towards.size):
        amount = np.float32(towards[g])
        if amount != 0:
            for k in range(rows.size):
                s, w = low[lid[k]], max(way[lid[k]], np.float32(0))
                for axis in range(3):
                    points[rows[k], axis] += amount * (gazes[g, s, k, axis] + w * (gazes[g, s + 1, k, axis] - gazes[g, s, k, axis]))


@njit(**OPTIONS)
def turn_about(points, rows, lid, weights, centre, turns):  # type: ignore[no-untyped-def]
    """Turn points `rows` (K,) about a `centre` (3,) by their `weights` (K,) of what `turns` (2, 3, 3) their lid (K,), 0 or 1."""
    moves = np.empty((2, 3, 3), np.float32)  # what each turn adds
    for side in range(2):
        for i in range(3):
            for j in range(3):
                moves[side, i, j] = turns[side, i, j] - (1.0 if i == j else 0.0)
    cx, cy, cz = np.float32(centre[0]), np.float32(centre[1]), np.float32(centre[2])
    for k in range(rows.size):
        v, w, m = rows[k], weights[k], moves[lid[k]]
        x, y, z = points[v, 0] - cx, points[v, 1] - cy, points[v, 2] - cz
        points[v, 0] += w * (m[0, 0] * x + m[0, 1] * y + m[0, 2] * z)
        points[v, 1] += w * (m[1, 0] * x + m[1, 1] * y + m[1, 2] * z)
        points[v, 2] += w * (m[2, 0] * x + m[2, 1] * y + m[2, 2] * z)
