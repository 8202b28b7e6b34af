"""Differences vertex by vertex: left against right, now against before."""

from __future__ import annotations

import numpy as np

from tightseam.document.units import CM_TO_MM
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats, Ints

TOLD_STRETCH = 1000.0  # per cent; beyond that a part has collapsed, and its colour would take that of all others


def mirrored_difference(points: Floats, partners: Ints, plane: Plane) -> Floats:
    """How far each vertex (N, 3) is from the mirror image of its partner, (N,) mm; 0 where it has none (-1)."""
    image = plane.mirrored(np.asarray(points, float)[np.maximum(partners, 0)])
    return np.where(partners >= 0, CM_TO_MM * np.linalg.norm(points - image, axis=1), 0.0)


def mirrored_weights(rows: Floats, partners: Ints, twins: Ints) -> Floats:
    """How much of its weight (N,) each vertex carries otherwise than its partner does with the twins of the bones, 0 to 1.

    `rows` (N, B) are weights, `twins` (B,) the number of each bone's twin, its own where it has none.
    """
    other = rows[np.maximum(partners, 0)][:, twins]
    return np.where(partners >= 0, np.abs(rows - other).sum(axis=1) / 2, 0.0)


def in_head(points: Floats, to_head: Floats) -> Floats:
    """Posed points (N, 3) as they are in the space of the neutral head, `to_head` (4, 4) being what brings them there."""
    return np.asarray(points @ to_head[:3, :3].T + to_head[:3, 3])


def stretched(rest: Floats, posed: Floats, ends: Ints) -> Floats:
    """By how many per cent the edge at each vertex (N,) that grew or shrank most did so, as a growth: half the length counts as double,
    what collapses as TOLD_STRETCH. `rest` and `posed` (N, 3), `ends` (E, 2)."""
    was, now = (np.maximum(np.linalg.norm(p[ends[:, 0]] - p[ends[:, 1]], axis=1), 1e-9) for p in (rest, posed))
    grown = np.maximum(now / was, was / now) - 1
    most = np.zeros(len(rest))
    for end in ends.T:
        np.maximum.at(most, end, grown)
    return np.minimum(100 * most, TOLD_STRETCH)
