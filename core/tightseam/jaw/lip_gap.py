"""How far the lips are apart, from corner to corner."""

from __future__ import annotations

import numpy as np

from tightseam.contact.sections import Facing
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.regions import Rim
from tightseam.head.surface import Surface

COUNT = 41
PLACES = np.linspace(-1, 1, COUNT)
BEHIND = 0.7  # cm behind the line of the lips that still is lip


class LipGap:
    """The gap between the lips, beyond what it is in the neutral, at places from the right corner (-1) to the left (1)."""

    def __init__(self, surface: Surface, mouth: Rim) -> None:
        self.places = PLACES
        upper, lower = (_lip(surface, mouth, mouth.nearest_to(line)) for line in (mouth.upper, mouth.lower))
        self._facing = Facing(surface.points, upper, lower, mouth.upper, mouth.lower, COUNT)
        self._rest = self._facing.gaps(surface.points)[0]

    def of(self, skin: Floats) -> Floats:
        """For a posed skin (N, 3), (T,) in its units; 0 where the lips are as near as in the neutral."""
        return np.asarray(np.maximum(self._facing.gaps(skin)[0] - self._rest, 0))


def _lip(surface: Surface, mouth: Rim, nearest: Bools) -> Ints:
    """The triangles (T, 3) of one lip: its red, and the lining just behind it."""
    edge = {side: mouth.reach(surface, f"lip_{side}") for side in ("top", "bottom")}
    red = np.where(mouth.nearest_to(mouth.upper), edge["top"], edge["bottom"])
    lip = nearest & (mouth.distance <= np.where(mouth.inside, BEHIND, red))
    lip[mouth.upper if nearest[mouth.upper[len(mouth.upper) // 2]] else mouth.lower] = True  # both corners are of both lips
    return np.asarray(surface.triangles[lip[surface.triangles].all(axis=1)])
