"""The compiled inner loops of lids and eye relief."""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.deform.kernels_base import OPTIONS

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
def _cosines_sines(out, angles):  # type: ignore[no-untyped-def]
    """Cosines and sines, `out` (2, K): from their series as vector code, then those of the few that are large."""
    large = False
    for k in range(angles.size):
        out[0, k], out[1, k] = _small_cos_sin(angles[k])
        large |= abs(angles[k]) > SMALL
    if large:
        for k in range(angles.size):
            if abs(angles[k]) > SMALL:
                out[0, k], out[1, k] = np.cos(angles[k]), np.sin(angles[k])


@njit(inline="always", **OPTIONS)
def _into_arc(at, points, vertices, centre, axes):  # type: ignore[no-untyped-def]
    """Where vertices (K,) are from the `centre`, `at` (3, K): along, up and forward."""
    for k in range(vertices.size):
        v = vertices[k]
        at[0, k], at[1, k], at[2, k] = points[v, 0] - centre[0], points[v, 1] - centre[1], points[v, 2] - centre[2]
    for k in range(vertices.size):  # a loop of its own, so that it becomes vector code
        x, y, z = at[0, k], at[1, k], at[2, k]
        at[0, k] = x * axes[0, 0] + y * axes[0, 1] + z * axes[0, 2]
        at[1, k] = x * axes[1, 0] + y * axes[1, 1] + z * axes[1, 2]
        at[2, k] = x * axes[2, 0] + y * axes[2, 1] + z * axes[2, 2]


@njit(inline="always", **OPTIONS)
def _read_margins(way, angle, slope, at, rows, start, inner, length):  # type: ignore[no-untyped-def]
    """Both margins as they stand: the way (M,) between the corners, always rising, the angle (M,) there and how fast it grows."""
    for m in range(rows.size):
        way[m] = (at[0, rows[m]] - inner) / length
        angle[m] = _arctan2(at[1, rows[m]], at[2, rows[m]])
        if m > 0 and m != start:
            way[m] = max(way[m], way[m - 1] + np.float32(1e-6))
            slope[m - 1] = (angle[m] - angle[m - 1]) / (way[m] - way[m - 1])


@njit(**OPTIONS)
def close_lids(  # type: ignore[no-untyped-def]
    points, vertices, lid, share, near, margin_rows, margin_start, closed, axes, centre, inner, length, lashes, lash_rows, closing, slide,
    turned,
):  # fmt: skip
    """Turn lid `vertices` about the axis through their corners, to the closed line by `closing` (2,) of upper and lower lid, and `lashes`
    as the vertices in their `lash_rows` turn.

    `lid` (K,) is 0 for the upper, 1 for the lower. `axes` (3, 3) are outwards along that axis, up and forward; `inner` and `length` give
    the way between the corners, `closed` (2, T) the angles to which upper and lower lid close over it. The margins, `margin_rows` of the
    upper from 0 and of the lower from `margin_start`, are read as they stand, slid sideways by `slide` (2,) radians; `near` (K,) is where
    among them each vertex stands in the neutral. `turned` (K, 2) receives each vertex's slide and turn.
    """
    if closing[0] == 0 and closing[1] == 0 and slide[0] == 0 and slide[1] == 0:
        turned[:] = 0
        return
    at = np.empty((3, vertices.size), np.float32)  # along, up and forward
    angle = np.empty((2, vertices.size), np.float32)  # by which each slides and turns
    turn = np.empty((2, vertices.size), np.float32)  # cosine and sine of that
    _into_arc(at, points, vertices, centre, axes)
    for k in range(vertices.size):
        t = min(max((at[0, k] - inner) / length, np.float32(0)), np.float32(1))
        angle[0, k] = np.float32(slide[lid[k]]) * share[k] * np.float32(4) * t * (np.float32(1) - t)  # the corners stay where they are
    if slide[0] != 0 or slide[1] != 0:
        _cosines_sines(turn, angle[0])
        for k in range(vertices.size):
            x, z = at[0, k], at[2, k]
            at[0, k], at[2, k] = x * turn[0, k] + z * turn[1, k], z * turn[0, k] - x * turn[1, k]
    steps = closed.shape[1] - 1
    way, now, slope = np.empty((3, margin_rows.size), np.float32)
    _read_margins(way, now, slope, at, margin_rows, margin_start, inner, length)
    for k in range(vertices.size):
        own = (at[0, k] - inner) / length
        place = min(max(own, np.float32(0)), np.float32(1)) * np.float32(steps)
        i = min(np.uint32(place), np.uint32(steps - 1))
        goal = closed[lid[k], i] + (closed[lid[k], i + np.uint32(1)] - closed[lid[k], i]) * (place - np.float32(i))
        first, last = (0, margin_start - 1) if lid[k] == 0 else (margin_start, margin_rows.size - 1)
        m = near[k]
        while m > first and way[m] > own:
            m -= 1
        while m < last - 1 and way[m + 1] <= own:
            m += 1
        beyond = min(max(own - way[m], np.float32(0)), way[m + 1] - way[m])  # level beyond the corners
        angle[1, k] = np.float32(closing[lid[k]]) * share[k] * (goal - now[m] - beyond * slope[m])
    _cosines_sines(turn, angle[1])
    for k in range(vertices.size):
        y, z = at[1, k], at[2, k]
        at[1, k], at[2, k] = y * turn[0, k] + z * turn[1, k], z * turn[0, k] - y * turn[1, k]
    for k in range(vertices.size):
        v, x, y, z = vertices[k], at[0, k], at[1, k], at[2, k]
        points[v, 0] = centre[0] + x * axes[0, 0] + y * axes[1, 0] + z * axes[2, 0]
        points[v, 1] = centre[1] + x * axes[0, 1] + y * axes[1, 1] + z * axes[2, 1]
        points[v, 2] = centre[2] + x * axes[0, 2] + y * axes[1, 2] + z * axes[2, 2]
        turned[k, 0], turned[k, 1] = angle[0, k], angle[1, k]
    for k in range(lashes.size):
        row = lash_rows[k]
        _turned(points[lashes[k]], centre, axes, angle[0, row], angle[1, row])


@njit(**OPTIONS)
def relieve(  # type: ignore[no-untyped-def]
    points, vertices, amount, clearance, settle, swell, lid, profile, followers, roots, closing, turn, centre
):
    """Move `vertices` along rays from the posed eye's `centre` (3,): out to their clearance, in by `settle` at most; and `followers` as
    the vertex in their row of them, `roots`, those with -1 not.

    `turn` (3, 3) is the eye's rotation, `profile` (181, A) its radius by degrees from +Z and angle about it. The clearance grows by
    `swell` (K,) as the lid of that number, `lid` (K,), -1 for none, closes by `closing` (2 E,).
    """
    rows, columns = profile.shape
    per_degree = np.float32(180.0 / np.pi)
    per_column = np.float32(columns / (2.0 * np.pi))
    count = vertices.size
    pushed = np.empty((count, 3), np.float32)
    at = np.empty((4, count), np.float32)  # from the centre, and how far that is
    place = np.empty((2, count), np.float32)  # in the profile; then the eye's radius there, and how far the lid is closed
    r, c = turn.astype(np.float32), centre.astype(np.float32)
    closed = np.zeros(closing.size + 1, np.float32)  # the last for those of no lid
    for k in range(closing.size):
        t = min(max(closing[k], 0.0), 1.0)
        closed[k] = t * (2.0 - t)  # most of the swell is there half-way
    for k in range(count):
        v = vertices[k]
        at[0, k], at[1, k], at[2, k] = points[v, 0] - c[0], points[v, 1] - c[1], points[v, 2] - c[2]
    for k in range(count):  # a loop of its own, so that it becomes vector code
        x, y, z = at[0, k], at[1, k], at[2, k]
        ex = x * r[0, 0] + y * r[1, 0] + z * r[2, 0]
        ey = x * r[0, 1] + y * r[1, 1] + z * r[2, 1]
        ez = x * r[0, 2] + y * r[1, 2] + z * r[2, 2]
        at[3, k] = np.sqrt(x * x + y * y + z * z)
        place[0, k] = _arctan2(np.sqrt(ex * ex + ey * ey), ez) * per_degree
        around = _arctan2(ey, ex) * per_column
        place[1, k] = around + (np.float32(columns) if around < 0 else np.float32(0))
    flat, wide, last, one = profile.reshape(-1), np.uint32(columns), np.uint32(rows - 2), np.uint32(1)
    for k in range(count):
        polar, around = place[0, k], place[1, k]
        i, j = min(np.uint32(polar), last), np.uint32(around)
        u, w = polar - np.float32(i), around - np.float32(j)
        j = j if j < wide else j - wide
        following = j + one if j + one < wide else np.uint32(0)
        near, far = flat[i * wide + j], flat[i * wide + wide + j]
        near += (flat[i * wide + following] - near) * w
        far += (flat[i * wide + wide + following] - far) * w
        place[0, k] = near + (far - near) * u
        place[1, k] = closed[lid[k] if lid[k] >= 0 else closing.size]
    for k in range(count):
        lack = place[0, k] + clearance[k] + swell[k] * place[1, k] - at[3, k]
        push = amount[k] * max(lack, -settle[k]) / at[3, k]
        pushed[k, 0], pushed[k, 1], pushed[k, 2] = at[0, k] * push, at[1, k] * push, at[2, k] * push
    for k in range(count):
        v = vertices[k]
        points[v, 0] += pushed[k, 0]
        points[v, 1] += pushed[k, 1]
        points[v, 2] += pushed[k, 2]
    for k in range(followers.size):
        if roots[k] >= 0:
            for axis in range(3):
                points[followers[k], axis] += pushed[roots[k], axis]


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
