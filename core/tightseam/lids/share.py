"""Lid share: how much of the closing each vertex about an eye takes."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.normals import unit
from tightseam.geometry.types import Floats
from tightseam.head.regions import Rim
from tightseam.head.surface import Surface

# share by distance from the margin, as a multiple of the way to the fold
OUTER = np.array([(0.0, 1.0), (0.05, 1.0), (0.16, 0.965), (0.55, 0.80), (1.0, 0.46), (1.4, 0.27), (1.8, 0.14), (2.2, 0.05), (2.7, 0.0)])
# share on the lining by angle from the margin, in degrees
INNER = np.array([(0.0, 1.0), (6.0, 1.0), (20.0, 0.85), (40.0, 0.52), (65.0, 0.20), (92.0, 0.0)])


def first_share(surface: Surface, rim: Rim, side: str, centre: Floats) -> Floats:
    """Share (N,) of all skin vertices in the closing of one side's lids: all of it at the margin, half at the fold, none well beyond it."""
    share = np.zeros(len(surface.points))
    for line, lid in ((rim.upper, "upper"), (rim.lower, "lower")):
        fold = rim.reach(surface, f"lid_fold_{lid}_{side}")
        patch = rim.nearest_to(line) & ~rim.inside
        share[patch] = np.interp(rim.distance[patch] / fold, OUTER[:, 0], OUTER[:, 1])
    lining = np.flatnonzero(rim.inside)
    now, margin = unit(surface.points[lining] - centre), unit(surface.points[rim.nearest[lining]] - centre)
    angle = np.degrees(np.arccos(np.clip((now * margin).sum(axis=1), -1, 1)))
    share[lining] = np.interp(angle, INNER[:, 0], INNER[:, 1])
    return share


def even_share(surface: Surface, rim: Rim, side: str) -> Floats:
    """A share (N,) that falls evenly over the surface, from all of it at the margin to none at nearly three times the way to the fold."""
    share = np.zeros(len(surface.points))
    for line, lid in ((rim.upper, "upper"), (rim.lower, "lower")):
        fold = rim.reach(surface, f"lid_fold_{lid}_{side}")
        own = rim.nearest_to(line)
        share[own] = np.clip(1 - rim.distance[own] / (OUTER[-1, 0] * fold), 0, 1)
    return share
