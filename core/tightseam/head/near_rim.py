"""Where the skin round lids or lips lies from their lines, without steps from one vertex to the next."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.easing import smoothstep
from tightseam.geometry.surface_distance import distance_to_line
from tightseam.geometry.types import Bools, Floats
from tightseam.head.regions import Rim
from tightseam.head.surface import Surface

BLEND = 0.2  # cm by which one line must be nearer than the other for a vertex to belong to it wholly


@dataclass(frozen=True)
class NearRim:
    """Of each vertex of a skin (N,): `lower`, 0 where it belongs to the upper line, 1 where it belongs to the lower one; its distance to
    either along the surface, cm, and how far along them the nearest place is, 0 in the first corner and 1 in the second; and whether it is
    `inside`, behind them."""

    lower: Floats
    to_upper: Floats
    to_lower: Floats
    along_upper: Floats
    along_lower: Floats
    inside: Bools

    @property
    def distance(self) -> Floats:
        return np.minimum(self.to_upper, self.to_lower)

    def of_either(self, upper: Floats, lower: Floats) -> Floats:
        """Values (N, ...) of the upper and of the lower line, as a vertex belongs to them."""
        share = self.lower.reshape(-1, *[1] * (upper.ndim - 1))
        return np.asarray((1 - share) * upper + share * lower)

    def within(self, upper: float, lower: float, fade: float) -> Floats:
        """1 within so many cm of either line, (N,), down to 0 over `fade` cm round that; in the corners the mean of both counts."""
        mean = (upper + lower) / 2
        reaches = (r + (mean - r) * (2 * np.abs(t - 0.5)) ** 4 for r, t in ((upper, self.along_upper), (lower, self.along_lower)))
        return smoothstep((self.of_either(*reaches) - self.distance) / fade + 0.5)


def near_rim(surface: Surface, rim: Rim) -> NearRim:
    to_upper, along_upper = distance_to_line(surface.mesh, rim.upper)
    to_lower, along_lower = distance_to_line(surface.mesh, rim.lower)
    lower = smoothstep((to_upper - to_lower) / (2 * BLEND) + 0.5)
    lower[rim.upper[1:-1]], lower[rim.lower[1:-1]] = 0, 1
    return NearRim(lower, to_upper, to_lower, along_upper, along_lower, rim.inside)
