"""Closing the lids of one eye as a blend shape."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.normals import unit
from tightseam.geometry.types import Floats, Ints
from tightseam.landmarks.regions import Rim, lids
from tightseam.landmarks.surface import Surface

MEETS_AT = 0.24  # height of the closed line between lower (0) and upper margin (1)
PASS_BY = 0.012  # rad the margins pass each other, so that smoothing cannot open the line
# share of the closing by distance from the margin, as a multiple of the way to the fold
OUTER_SHARE = np.array(
    [(0.0, 1.0), (0.05, 1.0), (0.16, 0.965), (0.55, 0.80), (1.0, 0.46), (1.4, 0.27), (1.8, 0.14), (2.2, 0.05), (2.7, 0.0)]
)
# share on the lining by angle from the margin, in degrees
INNER_SHARE = np.array([(0.0, 1.0), (6.0, 1.0), (20.0, 0.85), (40.0, 0.52), (65.0, 0.20), (92.0, 0.0)])


def lid_closing(surface: Surface, side: str, centre: Floats, lashes: dict[str, Floats]) -> tuple[Floats, dict[str, Floats]]:
    """Offsets (N, 3) of the skin and of each lash part (name -> offsets) for a full closing, in cm.

    Each margin vertex turns about the eye's `centre` (3,) to the closed line; every lid vertex turns with the margin vertex
    nearest to it, by its share.
    """
    rim = lids(surface, side)
    start, target = _closing_directions(surface, rim, centre)
    share = _share(surface, rim, side, centre)
    moving = np.flatnonzero(share > 0)
    offsets = np.zeros_like(surface.points)
    column = rim.nearest[moving]
    offsets[moving] = _turn(surface.points[moving], start[column], target[column], share[moving], centre) - surface.points[moving]
    return offsets, {name: _lash_offsets(surface, rim, points, start, target, centre) for name, points in lashes.items()}


def _closing_directions(surface: Surface, rim: Rim, centre: Floats) -> tuple[Floats, Floats]:
    """Direction from the eye's centre of each margin vertex now and closed; zero elsewhere."""
    start = np.zeros_like(surface.points)
    target = np.zeros_like(surface.points)
    start[rim.loop] = unit(surface.points[rim.loop] - centre)
    for line, partner, blend, passing in ((rim.upper, rim.lower, 1 - MEETS_AT, -PASS_BY), (rim.lower, rim.upper, MEETS_AT, PASS_BY)):
        here, there = start[line], _resampled(surface.points, line, partner, centre)
        t = np.linspace(0, 1, len(line))[:, None]
        target[line] = unit(unit(here + (there - here) * blend) + passing * np.sqrt(np.sin(np.pi * t)) * [0, 1, 0])
    for corner in (rim.upper[0], rim.upper[-1]):
        target[corner] = start[corner]
    return start, target


def _resampled(points: Floats, line: Ints, partner: Ints, centre: Floats) -> Floats:
    """Directions of the partner line at the same fractions of arc length as the vertices of `line`."""

    def arc(indices: Ints) -> Floats:
        s = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points[indices], axis=0), axis=1))])
        return np.asarray(s / s[-1])

    if len(line) == len(partner):
        return unit(points[partner] - centre)
    at, given = arc(line), arc(partner)
    return unit(np.stack([np.interp(at, given, points[partner][:, k]) for k in range(3)], axis=1) - centre)


def _share(surface: Surface, rim: Rim, side: str, centre: Floats) -> Floats:
    share = np.zeros(len(surface.points))
    fold = {lid: rim.distance[surface.vertex(f"lid_fold_{lid}_{side}")] for lid in ("upper", "lower")}
    for line, reach in ((rim.upper, fold["upper"]), (rim.lower, fold["lower"])):
        patch = rim.nearest_to(line) & ~rim.inside
        share[patch] = np.interp(rim.distance[patch] / reach, OUTER_SHARE[:, 0], OUTER_SHARE[:, 1])
    lining = np.flatnonzero(rim.inside)
    now, margin = unit(surface.points[lining] - centre), unit(surface.points[rim.nearest[lining]] - centre)
    angle = np.degrees(np.arccos(np.clip((now * margin).sum(axis=1), -1, 1)))
    share[lining] = np.interp(angle, INNER_SHARE[:, 0], INNER_SHARE[:, 1])
    return share


def _turn(points: Floats, start: Floats, target: Floats, share: Floats, centre: Floats) -> Floats:
    """Rotate points (K, 3) about `centre` by `share` of the angle from `start` to `target` (rows), by Rodrigues' formula."""
    axis = np.cross(start, target)
    sine = np.linalg.norm(axis, axis=1)
    angle = np.arctan2(sine, (start * target).sum(axis=1)) * share
    axis = unit(axis)
    arm = points - centre
    along_axis = axis * ((axis * arm).sum(axis=1) * (1 - np.cos(angle)))[:, None]
    return np.asarray(centre + arm * np.cos(angle)[:, None] + np.cross(axis, arm) * np.sin(angle)[:, None] + along_axis)


def _lash_offsets(surface: Surface, rim: Rim, lash: Floats, start: Floats, target: Floats, centre: Floats) -> Floats:
    """A lash turns as one with the margin vertex its own vertices are nearest to on its lid."""
    gap = {lid: _nearest(lash, surface.points[line]) for lid, line in (("upper", rim.upper), ("lower", rim.lower))}
    lid = min(gap, key=lambda name: float(gap[name][0].mean()))
    line = rim.upper if lid == "upper" else rim.lower
    column = line[gap[lid][1]]
    return _turn(lash, start[column], target[column], np.ones(len(lash)), centre) - lash


def _nearest(queries: Floats, points: Floats) -> tuple[Floats, Ints]:
    distance = np.linalg.norm(queries[:, None] - points[None], axis=2)
    return distance.min(axis=1), distance.argmin(axis=1)
