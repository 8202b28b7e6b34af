"""Thin flesh between the lining of the mouth and the skin before it, which moves as one."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.distance import barycentric, closest_points
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.symmetry import partners
from tightseam.geometry.types import Floats
from tightseam.head.regions import Rim
from tightseam.head.surface import Surface

LIPS = 0.4  # cm behind the lip line from where the lining has skin before it
LEAST = 0.15  # of going together: less would move single vertices alone
MIRRORED = 1e-3  # cm to which the two sides of a head are mirror images
ROOM = 0.5  # of the flesh that its sides may come nearer to each other
THIN, THICK = 0.2, 0.6  # cm of flesh that moves as one, and that in which either side goes its own way


class Flesh:
    """The lining of a mouth, the skin each of its vertices lies behind, and how far the two go together."""

    def __init__(self, surface: Surface, mouth: Rim) -> None:
        self._lining = np.flatnonzero(mouth.inside & (mouth.distance > LIPS))
        outer = surface.triangles[~mouth.inside[surface.triangles].any(axis=1)]
        distance, row, closest = closest_points(surface.points[self._lining], surface.points, outer)
        self._before = outer[row]
        # before the middle the nearest skin may as well be that of the other side
        twin = partners(surface.points, MIRRORED)
        own_twin = (twin[self._lining] == self._lining)[:, None]
        self._across = np.where(own_twin & (twin[self._before] >= 0), twin[self._before], self._before)
        self._shares = barycentric(closest, surface.points[self._before])
        begun = smoothstep((mouth.distance[self._lining] - LIPS) / LIPS)
        way = closest - surface.points[self._lining]
        self._room = ROOM * distance
        self._outward = way / np.maximum(distance, 1e-9)[:, None]
        together = begun * (1 - smoothstep((distance - THIN) / (THICK - THIN)))
        self._together = np.where(together > LEAST, together, 0)

    def moved_together(self, values: Floats) -> Floats:
        """Values (N, K) of a skin, those of its lining drawn to what the skin before it has where the flesh is thin."""
        values = values.copy()
        own = values[self._lining]
        values[self._lining] = own + self._together[:, None] * (self._of_skin_before(values) - own)
        return values

    def kept_behind(self, offsets: Floats) -> Floats:
        """Offsets (N, 3) of a skin, cm, those of its lining moved together with the skin before it and never nearer to it than ROOM of
        the flesh between."""
        offsets = self.moved_together(offsets)
        nearer = ((offsets[self._lining] - self._of_skin_before(offsets)) * self._outward).sum(axis=1)
        offsets[self._lining] -= (np.maximum(nearer - self._room, 0))[:, None] * self._outward
        return offsets

    def _of_skin_before(self, values: Floats) -> Floats:
        return np.einsum("lc,lck->lk", self._shares, (values[self._before] + values[self._across]) / 2)
