"""Rotations from degrees about the axes of a bone."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats


def rotation(degrees: Floats) -> Floats:
    """Rotation matrices (..., 3, 3) that turn about x first, then z, then y (pitch under yaw, as eyes and necks turn)."""
    angles = np.radians(degrees)
    (cx, cy, cz), (sx, sy, sz) = np.moveaxis(np.cos(angles), -1, 0), np.moveaxis(np.sin(angles), -1, 0)
    rows = [
        [cy * cz, -cy * sz * cx + sy * sx, cy * sz * sx + sy * cx],
        [sz, cz * cx, -cz * sx],
        [-sy * cz, sy * sz * cx + cy * sx, -sy * sz * sx + cy * cx],
    ]
    return np.stack([np.stack(row, axis=-1) for row in rows], axis=-2)
