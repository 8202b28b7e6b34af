"""How far the lips are apart, from corner to corner."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats, Ints
from tightseam.landmarks.regions import Rim, mouth_place
from tightseam.landmarks.surface import Surface

PLACES = np.linspace(-1, 1, 41)


class LipGap:
    """The distance between the lines of the lips beyond what it is in the neutral, at places from the right corner (-1) to the left (1)."""

    def __init__(self, surface: Surface, mouth: Rim) -> None:
        place = mouth_place(surface, surface.points)
        self.places = PLACES
        self._lines = [(line, np.maximum.accumulate(place[line])) for line in (mouth.upper, mouth.lower)]
        upper, lower = (_along(surface.points[line], at) for line, at in self._lines)
        self._rest = np.linalg.norm(upper - lower, axis=1)

    def of(self, skin: Floats) -> Floats:
        """For a posed skin (N, 3), (T,) in its units; 0 where the lips are as near as in the neutral."""
        upper, lower = (_along(skin[line], at) for line, at in self._lines)
        return np.asarray(np.maximum(np.linalg.norm(upper - lower, axis=1) - self._rest, 0))


def _along(points: Floats, at: Ints) -> Floats:
    return np.stack([np.interp(PLACES, at, points[:, axis]) for axis in range(3)], axis=1)
