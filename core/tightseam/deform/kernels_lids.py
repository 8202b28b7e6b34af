"""The compiled inner loops of lids and eye relief."""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.deform.kernels_base import OPTIONS


@njit(inline="always", **OPTIONS)
def _segment(places, at, low):  # type: ignore[no-untyped-def]
    """The stretch between knots (U,), rising, that a place lies in, looked for from one near by; the first or the last beyond them."""
    while low > 0 and places[low] > at:
        low -= 1
    while low < places.size - 2 and places[low + 1] <= at:
        low += 1
    return low


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
def _cos_sin(angle):  # type: ignore[no-untyped-def]
    """Cosine and sine; for the small angles by which lids turn from their series, which float32 cannot tell from them."""
    if abs(angle) > np.float32(1.2):
        return np.cos(angle), np.sin(angle)
    s = angle * angle
    c = np.float32(1 / 24) + s * (np.float32(-1 / 720) + s * (np.float32(1 / 40320) - s * np.float32(1 / 3628800)))
    t = np.float32(1 / 120) + s * (np.float32(-1 / 5040) + s * np.float32(1 / 362880))
    return np.float32(1) + s * (np.float32(-0.5) + s * c), angle * (np.float32(1) + s * (np.float32(-1 / 6) + s * t))


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


@njit(**OPTIONS)
def close_lids(  # type: ignore[no-untyped-def]
    points, vertices, upper, share, margin_rows, margin_start, closed, axes, centre, inner, length, closing, slide, turned
):
    """Turn lid `vertices` about the axis through their corners, to the closed line by `closing` (2,) of upper and lower lid.

    `axes` (3, 3) are outwards along that axis, up and forward; `inner` and `length` give the way between the corners, `closed` (2, T) the
    angles to which upper and lower lid close over it. The margins, `margin_rows` of the upper from 0 and of the lower from
    `margin_start`, are read as they stand, slid sideways by `slide` (2,) radians. `turned` (K, 2) receives each vertex's slide and turn.
    """
    count = vertices.size
    at = np.empty((3, count), np.float32)  # along, up and forward, slid
    turn = np.empty((2, count), np.float32)  # cosine and sine of each turn
    one = np.float32(1)
    for k in range(count):
        v = vertices[k]
        at[0, k], at[1, k], at[2, k] = points[v, 0] - centre[0], points[v, 1] - centre[1], points[v, 2] - centre[2]
    for k in range(count):  # loops of their own, so that they become vector code
        x, y, z = at[0, k], at[1, k], at[2, k]
        at[0, k] = x * axes[0, 0] + y * axes[0, 1] + z * axes[0, 2]
        at[1, k] = x * axes[1, 0] + y * axes[1, 1] + z * axes[1, 2]
        at[2, k] = x * axes[2, 0] + y * axes[2, 1] + z * axes[2, 2]
        turned[k, 0] = 0
    if slide[0] != 0 or slide[1] != 0:
        for k in range(count):
            x, z = at[0, k], at[2, k]
            t = min(max((x - inner) / length, np.float32(0)), one)
            moved = slide[1 - upper[k]] * share[k] * 4 * t * (one - t)  # the corners stay where they are
            c, s = _cos_sin(moved)
            at[0, k], at[2, k] = x * c + z * s, z * c - x * s
            turned[k, 0] = moved
    margin_way = np.empty(margin_rows.size, np.float32)
    margin_angle = np.empty(margin_rows.size, np.float32)
    for k in range(margin_rows.size):
        row = margin_rows[k]
        margin_way[k] = (at[0, row] - inner) / length
        margin_angle[k] = _arctan2(at[1, row], at[2, row])
        if k > 0 and k != margin_start:
            margin_way[k] = max(margin_way[k], margin_way[k - 1] + np.float32(1e-6))
    low = np.zeros(2, np.int64)  # neighbours among the vertices lie near one another along the margins
    for k in range(count):
        way = (at[0, k] - inner) / length
        t = min(max(way, np.float32(0)), one)
        goals = closed[1 - upper[k]]
        place = t * np.float32(goals.size - 1)
        i = min(int(place), goals.size - 2)
        goal = goals[i] + (goals[i + 1] - goals[i]) * (place - np.float32(i))
        lid = 1 - upper[k]
        first, stop = (0, margin_start) if lid == 0 else (margin_start, margin_rows.size)
        low[lid] = _segment(margin_way[first:stop], way, low[lid])
        m = first + low[lid]
        u = min(max((way - margin_way[m]) / (margin_way[m + 1] - margin_way[m]), np.float32(0)), one)  # level beyond the corners
        now = margin_angle[m] + (margin_angle[m + 1] - margin_angle[m]) * u
        turned[k, 1] = closing[1 - upper[k]] * share[k] * (goal - now)
        turn[0, k], turn[1, k] = _cos_sin(turned[k, 1])
    for k in range(count):
        y, z = at[1, k], at[2, k]
        at[1, k], at[2, k] = y * turn[0, k] + z * turn[1, k], z * turn[0, k] - y * turn[1, k]
    for k in range(count):
        v, x, y, z = vertices[k], at[0, k], at[1, k], at[2, k]
        points[v, 0] = centre[0] + x * axes[0, 0] + y * axes[1, 0] + z * axes[2, 0]
        points[v, 1] = centre[1] + x * axes[0, 1] + y * axes[1, 1] + z * axes[2, 1]
        points[v, 2] = centre[2] + x * axes[0, 2] + y * axes[1, 2] + z * axes[2, 2]


@njit(**OPTIONS)
def turn_with(points, vertices, rows, centre, axes, turned):  # type: ignore[no-untyped-def]
    """Turn `vertices` about the eye as the lid vertex in their row (K,) of `turned` turns."""
    for k in range(vertices.size):
        _turned(points[vertices[k]], centre, axes, turned[rows[k], 0], turned[rows[k], 1])


@njit(**OPTIONS)
def relieve(points, vertices, amount, clearance, settle, centre, turn, profile, pushed):  # type: ignore[no-untyped-def]
    """Move `vertices` along rays from the posed eye's centre: out to their clearance, in by `settle` at most.

    `pushed` (K, 3) receives the movement; `turn` (3, 3) is the eye's rotation, `profile` (181, A) its radius by degrees
    from +Z and angle about it.
    """
    rows, columns = profile.shape
    per_degree = np.float32(180.0 / np.pi)
    per_column = np.float32(columns / (2.0 * np.pi))
    count = vertices.size
    at = np.empty((4, count), np.float32)  # from the centre, and how far that is
    place = np.empty((2, count), np.float32)  # in the profile
    for k in range(count):
        v = vertices[k]
        at[0, k], at[1, k], at[2, k] = points[v, 0] - centre[0], points[v, 1] - centre[1], points[v, 2] - centre[2]
    for k in range(count):  # a loop of its own, so that it becomes vector code
        x, y, z = at[0, k], at[1, k], at[2, k]
        ex = x * turn[0, 0] + y * turn[1, 0] + z * turn[2, 0]
        ey = x * turn[0, 1] + y * turn[1, 1] + z * turn[2, 1]
        ez = x * turn[0, 2] + y * turn[1, 2] + z * turn[2, 2]
        at[3, k] = np.sqrt(x * x + y * y + z * z)
        place[0, k] = _arctan2(np.sqrt(ex * ex + ey * ey), ez) * per_degree
        around = _arctan2(ey, ex) * per_column
        place[1, k] = around + (np.float32(columns) if around < 0 else np.float32(0))
    for k in range(count):
        v, x, y, z, radius = vertices[k], at[0, k], at[1, k], at[2, k], at[3, k]
        polar, around = place[0, k], place[1, k]
        i = min(int(polar), rows - 2)
        j = int(around)
        v_ = around - np.float32(j)
        j = j % columns
        following = (j + 1) % columns
        u = polar - np.float32(i)
        near = profile[i, j] * (1 - v_) + profile[i, following] * v_
        far = profile[i + 1, j] * (1 - v_) + profile[i + 1, following] * v_
        lack = near * (1 - u) + far * u + clearance[k] - radius
        push = amount[k] * max(lack, -settle[k]) / radius
        pushed[k, 0], pushed[k, 1], pushed[k, 2] = x * push, y * push, z * push
        points[v, 0] += pushed[k, 0]
        points[v, 1] += pushed[k, 1]
        points[v, 2] += pushed[k, 2]


@njit(**OPTIONS)
def follow(points, vertices, roots, pushed):  # type: ignore[no-untyped-def]
    """Move `vertices` as the relieved vertex in their row of `pushed` (K, 3) was moved; those with -1 stay."""
    for k in range(vertices.size):
        if roots[k] >= 0:
            for axis in range(3):
                points[vertices[k], axis] += pushed[roots[k], axis]
