"""From the collar down over the collar bones to the edge of the bust."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import project
from tightseam.demo.topology import Half

SPREAD = (1.10, 1.24, 1.40, 1.56, 1.70)  # of each ring against the collar
DROP = (0.30, 0.75, 1.35, 2.05, 2.80)  # of each ring below the collar, in the middle


def add_collar_rings(H: Half, P: Head) -> None:
    collar = [int(v) for v in H.grid[:, 0]]
    level = P["neck_bot"][1] + 0.5
    pts = np.array([H.pos[v] for v in collar])
    for _ in range(6):
        pts = project(pts, P, n=2)
        pts[:, 1] = level
    for v, p in zip(collar, pts):
        H.pos[v] = p
    axis = np.array([0, level, P["neck_bot"][2]])
    previous = collar
    for spread, drop in zip(SPREAD, DROP):
        ring = axis + (pts - axis) * [spread, 1, spread]
        ring[:, 1] = level - drop * (1 - P["shoulder_lift"] * (ring[:, 0] / ring[:, 0].max()) ** 2)
        ring = project(ring, P, n=6)
        ring[[0, -1], 0] = 0
        previous = H.ring(previous, ring, False, True)
    for v in previous:
        H.pinned[v] = H.pos[v]
    H.sets["collar"] = list(previous)
