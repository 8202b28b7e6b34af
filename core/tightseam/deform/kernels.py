"""The compiled inner loops of a frame. Contiguous arrays, one signature each, so that the cache always fits.

float32, and unsigned numbers for bones (uint16) and corners of triangles (uint32): a signed index costs a test for counting from
the end at every use.
"""

from __future__ import annotations

import numpy as np
from numba import njit

BLOCK = 256  # vertices whose mixed matrices fit the first cache
OPTIONS = {"fastmath": True, "cache": True, "nogil": True, "boundscheck": False, "error_model": "numpy"}


@njit(**OPTIONS)
def blend(out, rest, run_of_shape, run_start, run_length, run_values, values, active, strength):  # type: ignore[no-untyped-def]
    """out = rest + sum of active shapes. Offsets are runs of consecutive vertices, which the compiler turns into vector code."""
    flat, base = out.reshape(-1), rest.reshape(-1)
    for i in range(flat.size):
        flat[i] = base[i]
    for a in range(active.size):
        shape, w = active[a], strength[a]
        for r in range(run_of_shape[shape], run_of_shape[shape + 1]):
            n = run_length[r] * 3
            target = flat[run_start[r] * 3 : run_start[r] * 3 + n]
            source = values[run_values[r] : run_values[r] + n]
            for k in range(n):
                target[k] += w * source[k]


@njit(inline="always", **OPTIONS)
def _along(places, values, at):  # type: ignore[no-untyped-def]
    """Linear interpolation between knots (U,), rising; level beyond them."""
    last = places.size - 1
    if at <= places[0]:
        return values[0]
    if at >= places[last]:
        return values[last]
    low, high = 0, last
    while high - low > 1:
        middle = (low + high) // 2
        if places[middle] <= at:
            low = middle
        else:
            high = middle
    t = (at - places[low]) / (places[high] - places[low])
    return values[low] * (1 - t) + values[high] * t


@njit(inline="always", **OPTIONS)
def _arctan2(y, x):  # type: ignore[no-untyped-def]
    """arctan2 to 2e-8 and the rounding of float32 (Abramowitz & Stegun 4.4.49), without a call into the library."""
    wide, tall = abs(x), abs(y)
    most = max(wide, tall)
    q = min(wide, tall) / most if most > 0 else np.float32(0)
    s = q * q
    high = np.float32(-0.07528964) + s * (np.float32(0.0429096138) + s * (np.float32(-0.0161657367) + s * np.float32(0.0028662257)))
    low = np.float32(0.1999355085) + s * (np.float32(-0.1420889944) + s * (np.float32(0.1065626393) + s * high))
    a = q * (np.float32(1) + s * (np.float32(-0.3333314528) + s * low))
    if tall > wide:
        a = np.float32(np.pi / 2) - a
    if x < 0:
        a = np.float32(np.pi) - a
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
    at = np.empty((count, 3), np.float32)  # along, up and forward, slid
    angle = np.empty(count, np.float32)
    one = np.float32(1)
    for k in range(count):
        v = vertices[k]
        dx, dy, dz = points[v, 0] - centre[0], points[v, 1] - centre[1], points[v, 2] - centre[2]
        x = dx * axes[0, 0] + dy * axes[0, 1] + dz * axes[0, 2]
        y = dx * axes[1, 0] + dy * axes[1, 1] + dz * axes[1, 2]
        z = dx * axes[2, 0] + dy * axes[2, 1] + dz * axes[2, 2]
        moved = slide[1 - upper[k]] * share[k]
        if moved != 0:
            t = min(max((x - inner) / length, np.float32(0)), one)
            moved *= 4 * t * (one - t)  # the corners stay where they are
            c, s = _cos_sin(moved)
            x, z = x * c + z * s, z * c - x * s
        at[k, 0], at[k, 1], at[k, 2] = x, y, z
        angle[k] = _arctan2(y, z)
        turned[k, 0] = moved
    margin_way = np.empty(margin_rows.size, np.float32)
    margin_angle = np.empty(margin_rows.size, np.float32)
    for k in range(margin_rows.size):
        margin_way[k] = (at[margin_rows[k], 0] - inner) / length
        margin_angle[k] = angle[margin_rows[k]]
        if k > 0 and k != margin_start:
            margin_way[k] = max(margin_way[k], margin_way[k - 1] + np.float32(1e-6))
    for k in range(count):
        way = (at[k, 0] - inner) / length
        t = min(max(way, np.float32(0)), one)
        goals = closed[1 - upper[k]]
        place = t * np.float32(goals.size - 1)
        i = min(int(place), goals.size - 2)
        goal = goals[i] + (goals[i + 1] - goals[i]) * (place - np.float32(i))
        if upper[k] == 1:
            now = _along(margin_way[:margin_start], margin_angle[:margin_start], way)
        else:
            now = _along(margin_way[margin_start:], margin_angle[margin_start:], way)
        turned[k, 1] = closing[1 - upper[k]] * share[k] * (goal - now)
        c, s = _cos_sin(turned[k, 1])
        x, y, z = at[k, 0], at[k, 1] * c + at[k, 2] * s, at[k, 2] * c - at[k, 1] * s
        for axis in range(3):
            points[vertices[k], axis] = centre[axis] + x * axes[0, axis] + y * axes[1, axis] + z * axes[2, axis]


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
    for k in range(vertices.size):
        v = vertices[k]
        x, y, z = points[v, 0] - centre[0], points[v, 1] - centre[1], points[v, 2] - centre[2]
        radius = np.sqrt(x * x + y * y + z * z)
        ex = (x * turn[0, 0] + y * turn[1, 0] + z * turn[2, 0]) / radius
        ey = (x * turn[0, 1] + y * turn[1, 1] + z * turn[2, 1]) / radius
        ez = (x * turn[0, 2] + y * turn[1, 2] + z * turn[2, 2]) / radius
        polar = _arctan2(np.sqrt(ex * ex + ey * ey), ez) * per_degree
        around = _arctan2(ey, ex) * per_column
        if around < 0:
            around += np.float32(columns)
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


@njit(inline="always", **OPTIONS)
def _apply(out, points, mixed, start, count):  # type: ignore[no-untyped-def]
    """Send a block of points through its mixed matrices; a loop of its own, so that it too becomes vector code."""
    for q in range(count):
        i = start + q
        x, y, z = points[i, 0], points[i, 1], points[i, 2]
        out[i, 0] = mixed[q, 0] * x + mixed[q, 1] * y + mixed[q, 2] * z + mixed[q, 3]
        out[i, 1] = mixed[q, 4] * x + mixed[q, 5] * y + mixed[q, 6] * z + mixed[q, 7]
        out[i, 2] = mixed[q, 8] * x + mixed[q, 9] * y + mixed[q, 10] * z + mixed[q, 11]


@njit(**OPTIONS)
def skin4(out, points, bones, weights, matrices):  # type: ignore[no-untyped-def]
    """Linear blend skinning with 4 influences, unrolled, in blocks. `matrices` (B, 16) row by row."""
    mixed = np.empty((BLOCK, 16), np.float32)
    for start in range(0, points.shape[0], BLOCK):
        count = min(BLOCK, points.shape[0] - start)
        for q in range(count):
            i = start + q
            b0, b1, b2, b3 = bones[i, 0], bones[i, 1], bones[i, 2], bones[i, 3]
            w0, w1, w2, w3 = weights[i, 0], weights[i, 1], weights[i, 2], weights[i, 3]
            for j in range(16):
                mixed[q, j] = (w0 * matrices[b0, j] + w1 * matrices[b1, j]) + (w2 * matrices[b2, j] + w3 * matrices[b3, j])
        _apply(out, points, mixed, start, count)


@njit(**OPTIONS)
def skin8(out, points, bones, weights, matrices):  # type: ignore[no-untyped-def]
    """Linear blend skinning with 8 influences, unrolled, in blocks. `matrices` (B, 16) row by row."""
    mixed = np.empty((BLOCK, 16), np.float32)
    for start in range(0, points.shape[0], BLOCK):
        count = min(BLOCK, points.shape[0] - start)
        for q in range(count):
            i = start + q
            b0, b1, b2, b3 = bones[i, 0], bones[i, 1], bones[i, 2], bones[i, 3]
            b4, b5, b6, b7 = bones[i, 4], bones[i, 5], bones[i, 6], bones[i, 7]
            w0, w1, w2, w3 = weights[i, 0], weights[i, 1], weights[i, 2], weights[i, 3]
            w4, w5, w6, w7 = weights[i, 4], weights[i, 5], weights[i, 6], weights[i, 7]
            for j in range(16):
                mixed[q, j] = ((w0 * matrices[b0, j] + w1 * matrices[b1, j]) + (w2 * matrices[b2, j] + w3 * matrices[b3, j])) + (
                    (w4 * matrices[b4, j] + w5 * matrices[b5, j]) + (w6 * matrices[b6, j] + w7 * matrices[b7, j])
                )
        _apply(out, points, mixed, start, count)


@njit(**OPTIONS)
def normals(out, points, quads, triangles):  # type: ignore[no-untyped-def]
    """Area-weighted vertex normals by scattering the vector areas of polygons.

    A quad's vector area is half the cross product of its diagonals, however it would be split.
    """
    flat = out.reshape(-1)
    for i in range(flat.size):
        flat[i] = 0
    for f in range(quads.shape[0]):
        a, b, c, d = quads[f, 0], quads[f, 1], quads[f, 2], quads[f, 3]
        ux, uy, uz = points[c, 0] - points[a, 0], points[c, 1] - points[a, 1], points[c, 2] - points[a, 2]
        vx, vy, vz = points[d, 0] - points[b, 0], points[d, 1] - points[b, 1], points[d, 2] - points[b, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        for v in (a, b, c, d):
            out[v, 0] += nx
            out[v, 1] += ny
            out[v, 2] += nz
    for f in range(triangles.shape[0]):
        a, b, c = triangles[f, 0], triangles[f, 1], triangles[f, 2]
        ax, ay, az = points[a, 0], points[a, 1], points[a, 2]
        ux, uy, uz = points[b, 0] - ax, points[b, 1] - ay, points[b, 2] - az
        vx, vy, vz = points[c, 0] - ax, points[c, 1] - ay, points[c, 2] - az
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        for v in (a, b, c):
            out[v, 0] += nx
            out[v, 1] += ny
            out[v, 2] += nz
    for i in range(out.shape[0]):
        x, y, z = out[i, 0], out[i, 1], out[i, 2]
        scale = np.float32(1) / np.sqrt(x * x + y * y + z * z + np.float32(1e-30))
        out[i, 0], out[i, 1], out[i, 2] = x * scale, y * scale, z * scale


@njit(cache=True, nogil=True)
def pose_bones(out, angles, moves, axes, pivots, parents):  # type: ignore[no-untyped-def]
    """Matrices `out` (B, 4, 4), float64, from degrees (B, 3) about x, then z, then y of `axes` (B, 3, 3; rows), and cm (B, 3) along
    them; `parents` (B,) stand before, -1 is none."""
    for b in range(len(parents)):
        ax, ay, az = np.radians(angles[b, 0]), np.radians(angles[b, 1]), np.radians(angles[b, 2])
        cx, sx, cy, sy, cz, sz = np.cos(ax), np.sin(ax), np.cos(ay), np.sin(ay), np.cos(az), np.sin(az)
        turn = np.empty((3, 3))
        turn[0, 0], turn[0, 1], turn[0, 2] = cy * cz, -cy * sz * cx + sy * sx, cy * sz * sx + sy * cx
        turn[1, 0], turn[1, 1], turn[1, 2] = sz, cz * cx, -cz * sx
        turn[2, 0], turn[2, 1], turn[2, 2] = -sy * cz, sy * sz * cx + cy * sx, -sy * sz * sx + cy * cx
        local = np.zeros((4, 4))
        for i in range(3):
            for j in range(3):
                for k in range(3):
                    half = 0.0
                    for m in range(3):
                        half += turn[k, m] * axes[b, m, j]
                    local[i, j] += axes[b, k, i] * half
        local[3, 3] = 1
        for i in range(3):
            local[i, 3] = pivots[b, i]
            for k in range(3):
                local[i, 3] += axes[b, k, i] * moves[b, k]
            for k in range(3):
                local[i, 3] -= local[i, k] * pivots[b, k]
        parent = parents[b]
        for i in range(4):
            for j in range(4):
                if parent < 0:
                    out[b, i, j] = local[i, j]
                else:
                    out[b, i, j] = 0
                    for k in range(4):
                        out[b, i, j] += out[parent, i, k] * local[k, j]
