"""Small meshes with known answers."""

from __future__ import annotations

import numpy as np
from tightseam.geometry.polygons import Polygons


def grid(columns: int, rows: int, size: float = 1.0) -> tuple[np.ndarray, Polygons]:
    """A flat sheet of quads in the xy plane, `size` cm a cell."""
    points = np.array([(i * size, j * size, 0.0) for j in range(rows + 1) for i in range(columns + 1)])
    at = lambda i, j: j * (columns + 1) + i  # noqa: E731
    quads = [[at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)] for j in range(rows) for i in range(columns)]
    return points, Polygons.from_lists(quads)


def cube(size: float = 1.0) -> tuple[np.ndarray, Polygons]:
    corners = np.array([(x, y, z) for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], float) * size / 2
    quads = [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]]
    return corners, Polygons.from_lists(quads)


def ball(radius: float, around: int = 48, rings: int = 24) -> tuple[np.ndarray, Polygons]:
    """A ball about the origin whose poles lie on z."""
    polar = np.pi * np.arange(1, rings) / rings
    azimuth = 2 * np.pi * np.arange(around) / around
    middle = [(np.sin(p) * np.cos(a), np.sin(p) * np.sin(a), np.cos(p)) for p in polar for a in azimuth]
    points = np.array([(0, 0, 1), *middle, (0, 0, -1)]) * radius
    at = lambda r, k: 1 + r * around + k % around  # noqa: E731
    faces = [[0, at(0, k), at(0, k + 1)] for k in range(around)]
    faces += [[at(r, k), at(r + 1, k), at(r + 1, k + 1), at(r, k + 1)] for r in range(rings - 2) for k in range(around)]
    faces += [[len(points) - 1, at(rings - 2, k + 1), at(rings - 2, k)] for k in range(around)]
    return points, Polygons.from_lists(faces)
