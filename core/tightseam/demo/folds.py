"""Folds of an old skin, laid along the edges of the mesh: a furrow is a row pushed in between two that stand out."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import face_sdf, gradient
from tightseam.demo.topology import Half
from tightseam.geometry.normals import unit

FOREHEAD = (26, 27, 28, 29, 30)  # rows from the brow up
COLUMNS = 11  # from the middle line to the temple


def fold(H: Half, P: Head) -> None:
    depth = P["furrows"]
    if not depth:
        return
    push: dict[int, float] = {}
    for row in FOREHEAD:
        for i in range(COLUMNS):
            fade = 1 - (i / COLUMNS) ** 2
            push[int(H.grid[i, row])] = (1.0 if row % 2 else -0.75) * depth * fade * (1 - 0.25 * (row - 26) / 4)
    outer = len(H.eye_rings[0]) // 2
    for k, ring in enumerate(H.eye_rings[1:5]):
        for spoke in range(-3, 4):
            push[ring[outer + spoke]] = (0.55 if spoke % 2 == 0 else -0.30) * depth * (1 - abs(spoke) / 5) * (0.55, 1.0, 1.0, 0.6)[k]
    rows = np.array(list(push))
    H.sets["furrow"] = [v for v, p in push.items() if p > 0.02]
    middle = [int(H.grid[0, row]) for row in FOREHEAD]
    H.points[rows] -= unit(gradient(face_sdf, H.points[rows], P)) * np.array(list(push.values()))[:, None]
    H.points[middle, 0] = 0
