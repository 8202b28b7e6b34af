"""The compiled inner loops of a frame. Contiguous arrays, one signature each, so that the cache always fits.

float32, and unsigned numbers for bones (uint16) and corners of triangles (uint32): a signed index costs a test for counting from
the end at every use.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.deform.kernels_base import BLOCK, OPTIONS
from tightseam.deform.kernels_lids import close_lids, follow, relieve, turn_with
from tightseam.deform.kernels_mouth import duals_of, lip_motion, seal_lips, skin_dual

__all__ = [
    "blend", "close_lids", "duals_of", "follow", "lip_motion", "normals", "pose_bones", "relieve", "respond", "seal_lips", "skin4",
    "skin8", "skin_dual", "turn_with",
]  # fmt: skip


@njit(**OPTIONS)
def blend(out, rest, run_of_shape, run_start, run_length, run_values, values, active, strength):  # type: ignore[no-untyped-def]
    """out = rest + sum of active shapes; with `out` itself for rest they are added to it. Offsets are runs of consecutive vertices, which
    the compiler turns into vector code."""
    flat, base = out.reshape(-1), rest.reshape(-1)
    if out.ctypes.data != rest.ctypes.data:
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


@njit(cache=True, nogil=True)
def respond(out, values, rows, columns, start, step, tables):  # type: ignore[no-untyped-def]
    """Add to `out` (R,) what curves give for values (C,) of controls: `tables` (Q, T) from `start` (Q,) in steps (Q,), level beyond."""
    last = tables.shape[1] - 1
    for q in range(rows.size):
        place = min(max((values[columns[q]] - start[q]) / step[q], 0.0), float(last))
        k = min(int(place), last - 1)
        out[rows[q]] += tables[q, k] + (place - k) * (tables[q, k + 1] - tables[q, k])


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
