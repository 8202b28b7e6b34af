"""The compiled inner loops of dual quaternions and of lips that seal."""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.deform.kernels_base import BLOCK, OPTIONS
from tightseam.deform.kernels_vector import sum_rows


@njit(**OPTIONS)
def skin_dual(out, points, vertices, mix, bones, weights, duals):  # type: ignore[no-untyped-def]
    """Bring `vertices` of linearly skinned points `out` by `mix` (K,) to where dual quaternion skinning takes them (Kavan et al. 2008).

    `duals` (B, 8), real parts first. A total that is not 1 scales the result, as it does the linear one.
    """
    one, two = np.float32(1), np.float32(2)
    mixed = np.empty((BLOCK, 8), np.float32)
    totals, signed = np.empty(BLOCK, np.float32), np.empty((BLOCK, bones.shape[1]), np.float32)
    facing = np.empty((duals.shape[0], duals.shape[0]), np.float32)  # which way round two of them are the shorter
    for a in range(duals.shape[0]):
        for b in range(duals.shape[0]):
            product = duals[a, 0] * duals[b, 0] + duals[a, 1] * duals[b, 1] + duals[a, 2] * duals[b, 2] + duals[a, 3] * duals[b, 3]
            facing[a, b] = one if product >= 0 else -one
    for start in range(0, vertices.size, BLOCK):
        count = min(BLOCK, vertices.size - start)
        for q in range(count):
            v = vertices[start + q]
            total = np.float32(0)
            for k in range(bones.shape[1]):
                total += weights[v, k]
                signed[q, k] = weights[v, k] * facing[bones[v, 0], bones[v, k]]
            totals[q] = total
            if bones.shape[1] == 4:
                sum_rows(mixed, q, signed, q, bones, v, duals, 4, 8)
            else:
                sum_rows(mixed, q, signed, q, bones, v, duals, 8, 8)
        for q in range(count):
            v, total = vertices[start + q], totals[q]
            w, x, y, z = mixed[q, 0], mixed[q, 1], mixed[q, 2], mixed[q, 3]
            scale = one / np.sqrt(w * w + x * x + y * y + z * z + np.float32(1e-30))
            w, x, y, z = w * scale, x * scale, y * scale, z * scale
            dw, dx, dy, dz = mixed[q, 4] * scale, mixed[q, 5] * scale, mixed[q, 6] * scale, mixed[q, 7] * scale
            px, py, pz = points[v, 0], points[v, 1], points[v, 2]
            cx, cy, cz = y * pz - z * py + w * px, z * px - x * pz + w * py, x * py - y * px + w * pz
            share = mix[start + q]
            qx = total * (px + two * (y * cz - z * cy + w * dx - dw * x + y * dz - z * dy))
            qy = total * (py + two * (z * cx - x * cz + w * dy - dw * y + z * dx - x * dz))
            qz = total * (pz + two * (x * cy - y * cx + w * dz - dw * z + x * dy - y * dx))
            if share < one:  # else nothing linear is there
                qx, qy, qz = (
                    out[v, 0] + share * (qx - out[v, 0]),
                    out[v, 1] + share * (qy - out[v, 1]),
                    out[v, 2] + share * (qz - out[v, 2]),
                )
            out[v, 0], out[v, 1], out[v, 2] = qx, qy, qz


@njit(**OPTIONS)
def seal_lips(out, points, vertices, share, when, left, corners, soft, seals, pulls, together, apart):  # type: ignore[no-untyped-def]
    """Seal lips that have been skinned to `out`: first corners go on towards the jaw by `pulls` (2,), then what is sealed is carried
    `together` (16,). `seals` (2,) are how far the seal has come from the left and the right corner, `apart` (16,) jaw less head."""
    one = np.float32(1)
    for k in range(vertices.size):
        v = vertices[k]
        x, y, z = points[v, 0], points[v, 1], points[v, 2]
        pull = pulls[0] * corners[k, 0] + pulls[1] * corners[k, 1]
        t = min(max((seals[0] * (one + soft) - when[k]) / soft, np.float32(0)), one)
        u = min(max((seals[1] * (one + soft) - when[k]) / soft, np.float32(0)), one)
        t = t * t * (np.float32(3) - np.float32(2) * t)
        u = u * u * (np.float32(3) - np.float32(2) * u)
        sealed = share[k] * (left[k] * t + (one - left[k]) * u)
        for axis in range(3):
            r = 4 * axis
            at = out[v, axis] + pull * (apart[r] * x + apart[r + 1] * y + apart[r + 2] * z + apart[r + 3])
            out[v, axis] = at + sealed * (together[r] * x + together[r + 1] * y + together[r + 2] * z + together[r + 3] - at)


@njit(cache=True, nogil=True)
def lip_motion(head, jaw, balance, middle, ahead, together, apart):  # type: ignore[no-untyped-def]
    """What carries sealed lips, `together` (16,), and corners on towards the jaw, `apart` (16,), from the matrices (4, 4) of the bones;
    returns by how many cm the jaw has parted the lips at their `middle` (3,).

    The rigid matrix `balance` of the way from one to the other, by dual quaternions (Kavan et al. 2008), is shifted forward in the head by
    `ahead` of what it swings the middle back.
    """
    turn, shift = np.empty((3, 3)), np.empty(3)  # from the head to the jaw
    for i in range(3):
        for j in range(3):
            turn[i, j] = head[0, i] * jaw[0, j] + head[1, i] * jaw[1, j] + head[2, i] * jaw[2, j]
        shift[i] = 0.0
        for k in range(3):
            shift[i] += head[k, i] * (jaw[k, 3] - head[k, 3])
    # a jaw never turns by half a turn, so that w is the large one
    w = np.sqrt(max(1 + turn[0, 0] + turn[1, 1] + turn[2, 2], 1e-12)) / 2
    x, y, z = (turn[2, 1] - turn[1, 2]) / (4 * w), (turn[0, 2] - turn[2, 0]) / (4 * w), (turn[1, 0] - turn[0, 1]) / (4 * w)
    dw = -0.5 * (shift[0] * x + shift[1] * y + shift[2] * z)
    dx = 0.5 * (shift[0] * w + shift[1] * z - shift[2] * y)
    dy = 0.5 * (shift[1] * w + shift[2] * x - shift[0] * z)
    dz = 0.5 * (shift[2] * w + shift[0] * y - shift[1] * x)
    w, x, y, z = 1 - balance + balance * w, balance * x, balance * y, balance * z
    length = np.sqrt(w * w + x * x + y * y + z * z)
    w, x, y, z = w / length, x / length, y / length, z / length
    dw, dx, dy, dz = balance * dw / length, balance * dx / length, balance * dy / length, balance * dz / length
    part = np.empty((3, 4))
    part[0, 0], part[0, 1], part[0, 2] = 1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)
    part[1, 0], part[1, 1], part[1, 2] = 2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)
    part[2, 0], part[2, 1], part[2, 2] = 2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)
    part[0, 3] = 2 * (w * dx - dw * x + y * dz - z * dy)
    part[1, 3] = 2 * (w * dy - dw * y + z * dx - x * dz)
    part[2, 3] = 2 * (w * dz - dw * z + x * dy - y * dx)
    back = middle[2] - (part[2, 0] * middle[0] + part[2, 1] * middle[1] + part[2, 2] * middle[2] + part[2, 3])
    part[2, 3] += ahead * max(back, 0.0)
    for i in range(4):
        for j in range(4):
            apart[4 * i + j] = jaw[i, j] - head[i, j]
            found = head[i, 3] if j == 3 else 0.0
            for k in range(3):
                found += head[i, k] * part[k, j]
            together[4 * i + j] = found
    return middle[1] - (turn[1, 0] * middle[0] + turn[1, 1] * middle[1] + turn[1, 2] * middle[2] + shift[1])


@njit(cache=True, nogil=True)
def duals_of(matrices, out):  # type: ignore[no-untyped-def]
    """Unit dual quaternions `out` (B, 8), float32, of rigid matrices (B, 4, 4); of the four ways to read a quaternion off a matrix the one
    with the largest divisor (Shepperd 1978)."""
    for b in range(matrices.shape[0]):
        m = matrices[b]
        trace = m[0, 0] + m[1, 1] + m[2, 2]
        if trace > max(m[0, 0], m[1, 1], m[2, 2]):
            w, x, y, z = 1 + trace, m[2, 1] - m[1, 2], m[0, 2] - m[2, 0], m[1, 0] - m[0, 1]
        elif m[0, 0] >= m[1, 1] and m[0, 0] >= m[2, 2]:
            w, x, y, z = m[2, 1] - m[1, 2], 1 + 2 * m[0, 0] - trace, m[1, 0] + m[0, 1], m[0, 2] + m[2, 0]
        elif m[1, 1] >= m[2, 2]:
            w, x, y, z = m[0, 2] - m[2, 0], m[1, 0] + m[0, 1], 1 + 2 * m[1, 1] - trace, m[2, 1] + m[1, 2]
        else:
            w, x, y, z = m[1, 0] - m[0, 1], m[0, 2] + m[2, 0], m[2, 1] + m[1, 2], 1 + 2 * m[2, 2] - trace
        length = np.sqrt(w * w + x * x + y * y + z * z)
        w, x, y, z = w / length, x / length, y / length, z / length
        sx, sy, sz = m[0, 3] / 2, m[1, 3] / 2, m[2, 3] / 2
        out[b, 0], out[b, 1], out[b, 2], out[b, 3] = w, x, y, z
        out[b, 4] = -sx * x - sy * y - sz * z
        out[b, 5] = sx * w + sy * z - sz * y
        out[b, 6] = sy * w + sz * x - sx * z
        out[b, 7] = sz * w + sx * y - sy * x
