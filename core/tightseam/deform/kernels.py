"""The compiled inner loops of a frame. Contiguous arrays, one signature each, so that the cache always fits.

float32, and unsigned numbers for bones (uint16) and corners of triangles (uint32): a signed index costs a test for counting from
the end at every use.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.deform.kernels_base import OPTIONS
from tightseam.deform.kernels_eyes import move_lids, turn_eyes
from tightseam.deform.kernels_lids import add_between, close_lids, relieve, turn_about
from tightseam.deform.kernels_mouth import duals_of, lip_motion, seal_lips, skin_dual
from tightseam.deform.kernels_vector import add_area, carry

__all__ = [
    "add_between", "blend", "close_lids", "duals_of", "lip_motion", "move_lids", "normals", "pose_bones", "relieve", "respond", "seal_lips",
    "skin", "skin_dual", "turn_about", "turn_eyes",
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


@njit(**OPTIONS)
def skin(out, points, bones, weights, matrices):  # type: ignore[no-untyped-def]
    """Linear blend skinning with 4 or 8 influences. `matrices` (B, 16) column by column."""
    if bones.shape[1] == 4:
        for i in range(points.shape[0]):
            carry(out, points, weights, bones, matrices, i, 4)
    else:
        for i in range(points.shape[0]):
            carry(out, points, weights, bones, matrices, i, 8)


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
    """Area-weighted vertex normals by scattering the vector areas of polygons."""
    flat = out.reshape(-1)
    for i in range(flat.size):
        flat[i] = 0
    for f in range(quads.shape[0]):
        add_area(out, points, quads, f, 4)
    for f in range(triangles.shape[0]):
        add_area(out, points, triangles, f, 3)
    for i in range(out.shape[0]):
        x, y, z = out[i, 0], out[i, 1], out[i, 2]
        scale = np.float32(1) / np.sqrt(x * x + y * y + z * z + np.float32(1e-30))
        out[i, 0], out[i, 1], out[i, 2] = x * scale, y * scale, z * scale


@njit(cache=True, nogil=True)
def pose_bones(out, angles, moves, axes, pivots, parents):  # type: ignore[no-untyped-def]
    """Matrices `out` (B, 4, 4), float64, from degrees (B, 3) about x, then z, then y of `axes` (B, 3, 3; rows), and cm (B, 3) along
    them; `parents` (B,) stand before, -1 is none."""
    turn, local = np.empty((3, 3)), np.zeros((4, 4))
    local[3, 3] = 1
    for b in range(len(parents)):
        ax, ay, az = np.radians(angles[b, 0]), np.radians(angles[b, 1]), np.radians(angles[b, 2])
        cx, sx, cy, sy, cz, sz = np.cos(ax), np.sin(ax), np.cos(ay), np.sin(ay), np.cos(az), np.sin(az)
        turn[0, 0], turn[0, 1], turn[0, 2] = cy * cz, -cy * sz * cx + sy * sx, cy * sz * sx + sy * cx
        turn[1, 0], turn[1, 1], turn[1, 2] = sz, cz * cx, -cz * sx
        turn[2, 0], turn[2, 1], turn[2, 2] = -sy * cz, sy * sz * cx + cy * sx, -sy * sz * sx + cy * cx
        for i in range(3):
            for j in range(3):
                local[i, j] = 0.0
                for k in range(3):
                    half = 0.0
                    for m in range(3):
                        half += turn[k, m] * axes[b, m, j]
                    local[i, j] += axes[b, k, i] * half
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
