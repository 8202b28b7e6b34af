"""A map of all directions as a square: tables over directions that are looked up without a search (Meyer et al. 2010)."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.normals import unit
from tightseam.geometry.types import Bools, Floats, Ints


def octahedral_directions(size: int) -> Floats:
    """The unit directions (size², 3) of the middles of all cells, row by row."""
    middle = (np.arange(size) + 0.5) / size * 2 - 1
    v, u = (a.ravel() for a in np.meshgrid(middle, middle, indexing="ij"))
    z = 1 - np.abs(u) - np.abs(v)
    x, y = _folded(u, v, z < 0)
    return unit(np.stack([x, y, z], axis=1))


def octahedral_cells(directions: Floats, size: int) -> Ints:
    """The cell (K,) that each direction (K, 3), of any length but zero, falls into."""
    p = directions / np.abs(directions).sum(axis=1, keepdims=True)
    u, v = _folded(p[:, 0], p[:, 1], p[:, 2] < 0)
    column, row = (np.clip(((a + 1) / 2 * size).astype(np.int64), 0, size - 1) for a in (u, v))
    return np.asarray(row * size + column)


def _folded(u: Floats, v: Floats, lower: Bools) -> tuple[Floats, Floats]:
    """The lower half of the octahedron is folded out over the corners of the square; folding twice gives back where one was."""
    sign_u, sign_v = np.where(u < 0, -1.0, 1.0), np.where(v < 0, -1.0, 1.0)
    return np.where(lower, (1 - np.abs(v)) * sign_u, u), np.where(lower, (1 - np.abs(u)) * sign_v, v)
