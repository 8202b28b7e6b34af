"""Weights along a chain of bones."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats


def chain_weights(points: Floats, joints: Floats) -> Floats:
    """Partition of unity (N, B) along a chain of B bones with `joints` (B + 1, 3).

    A vertex is placed on the chain by its closest point on the line through the joints; between the middles of two
    bones its weight goes over from one to the other linearly.
    """
    start, direction = joints[:-1], np.diff(joints, axis=0)
    length = np.linalg.norm(direction, axis=1)
    t = np.einsum("nbk,bk->nb", points[:, None] - start[None], direction) / length**2
    t = np.clip(t, 0, 1)
    gap = np.linalg.norm(points[:, None] - (start[None] + t[..., None] * direction[None]), axis=2)
    arc_at = np.concatenate([[0.0], np.cumsum(length)])
    nearest = gap.argmin(axis=1)
    rows = np.arange(len(points))
    arc = arc_at[nearest] + t[rows, nearest] * length[nearest]
    middles = arc_at[:-1] + length / 2
    return np.stack([np.interp(arc, middles, row) for row in np.eye(len(length))], axis=1)
