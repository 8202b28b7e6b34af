"""Dual quaternions: rotations and shifts that can be blended without shrinking what they move (Kavan et al. 2008)."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats


def dual_of(matrices: Floats) -> Floats:
    """Unit dual quaternions (B, 8), real part first and each (w, x, y, z), of rigid matrices (B, 4, 4)."""
    m = matrices[:, :3, :3]
    # of the four ways to read a quaternion off a matrix the one with the largest divisor (Shepperd 1978)
    trace = np.trace(m, axis1=1, axis2=2)
    squares = np.stack([trace, m[:, 0, 0], m[:, 1, 1], m[:, 2, 2]], axis=1)
    x, y, z = m[:, 2, 1] - m[:, 1, 2], m[:, 0, 2] - m[:, 2, 0], m[:, 1, 0] - m[:, 0, 1]
    xy, xz, yz = m[:, 1, 0] + m[:, 0, 1], m[:, 2, 0] + m[:, 0, 2], m[:, 2, 1] + m[:, 1, 2]
    rows = np.stack(
        [
            np.stack([1 + trace, x, y, z], axis=1),
            np.stack([x, 1 + 2 * m[:, 0, 0] - trace, xy, xz], axis=1),
            np.stack([y, xy, 1 + 2 * m[:, 1, 1] - trace, yz], axis=1),
            np.stack([z, xz, yz, 1 + 2 * m[:, 2, 2] - trace], axis=1),
        ],
        axis=1,
    )
    real = rows[np.arange(len(m)), squares.argmax(axis=1)]
    real = real / np.linalg.norm(real, axis=1, keepdims=True)
    shift = np.concatenate([np.zeros((len(m), 1)), matrices[:, :3, 3]], axis=1)
    return np.concatenate([real, 0.5 * multiplied(shift, real)], axis=1)


def matrix_of(duals: Floats) -> Floats:
    """Matrices (B, 4, 4) of dual quaternions (B, 8), which need not be of length one."""
    duals = duals / np.linalg.norm(duals[:, :4], axis=1, keepdims=True)
    real, other = duals[:, :4], duals[:, 4:]
    w, x, y, z = real.T
    out = np.zeros((len(duals), 4, 4))
    out[:, 0, :3] = np.stack([1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)], axis=1)
    out[:, 1, :3] = np.stack([2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)], axis=1)
    out[:, 2, :3] = np.stack([2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)], axis=1)
    out[:, :3, 3] = 2 * multiplied(other, real * [1, -1, -1, -1])[:, 1:]
    out[:, 3, 3] = 1
    return out


def blended(duals: Floats, weights: Floats) -> Floats:
    """Dual quaternions (N, 8) mixed from (N, K, 8) by weights (N, K), each on the side of the heaviest of its row."""
    lead = duals[np.arange(len(duals)), weights.argmax(axis=1)]
    side = np.where((duals[:, :, :4] * lead[:, None, :4]).sum(axis=2) < 0, -1.0, 1.0)
    return np.asarray(((weights * side)[..., None] * duals).sum(axis=1))


def with_duals(linear: Floats, duals: Floats, weights: Floats, mix: Floats) -> Floats:
    """Blended matrices (N, R, 4), of R = 3 or 4 rows, with so much of what dual quaternions (N, K, 8) make of the same `weights` (N, K)
    mixed in, `mix` (N,). A total that is not 1 is not made 1."""
    total = weights.sum(axis=1)
    turned = matrix_of(blended(duals, weights + (total == 0)[:, None]))[:, : linear.shape[1]]
    return np.asarray(linear + mix[:, None, None] * (total[:, None, None] * turned - linear))


def between(first: Floats, second: Floats, share: float) -> Floats:
    """The rigid matrix (4, 4) `share` of the way from one to another."""
    duals = dual_of(np.stack([first, second]))
    return np.asarray(matrix_of(blended(duals[None], np.array([[1 - share, share]])))[0])


def multiplied(a: Floats, b: Floats) -> Floats:
    """Products (N, 4) of quaternions (N, 4)."""
    aw, ax, ay, az = a.T
    bw, bx, by, bz = b.T
    return np.stack(
        [
            aw * bw - ax * bx - ay * by - az * bz,
            aw * bx + ax * bw + ay * bz - az * by,
            aw * by - ax * bz + ay * bw + az * bx,
            aw * bz + ax * by - ay * bx + az * bw,
        ],
        axis=1,
    )
