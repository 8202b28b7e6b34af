"""Closed solids as triangles, and trees over them."""

from __future__ import annotations

import numpy as np
from tightseam.contact.tree import PosedTree, TriangleTree
from tightseam.geometry.triangulate import triangulate

from tests.core.shapes import ball


def sphere(radius: float, at: tuple[float, float, float] = (0, 0, 0)) -> tuple[np.ndarray, np.ndarray]:
    points, polygons = ball(radius, 24, 12)
    return points + at, triangulate(points, polygons)


def together(*meshes: tuple[np.ndarray, np.ndarray]) -> tuple[np.ndarray, np.ndarray]:
    starts = np.cumsum([0, *(len(p) for p, _ in meshes)])
    return np.vstack([p for p, _ in meshes]), np.vstack([t + start for (_, t), start in zip(meshes, starts, strict=False)])


def box(low: float, high: float) -> tuple[np.ndarray, np.ndarray]:
    corners = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)], float) * (high - low) + low
    quads = np.array([[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]])
    return corners, np.vstack([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])


def posed(mesh: tuple[np.ndarray, np.ndarray]) -> PosedTree:
    return TriangleTree(*mesh).at(mesh[0])
