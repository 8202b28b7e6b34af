"""How a head stands: its middle plane and its own axes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.geometry.normals import unit
from tightseam.geometry.symmetry import Plane, estimate_plane
from tightseam.geometry.types import Floats

UP = np.array([0.0, 1.0, 0.0])
HEADINGS = np.arange(-90, 90, 15)  # degrees about Y from which the middle plane is looked for
MOST_TILT = 25.0  # degrees that a gaze may be off the level and still say how the head is tilted


@dataclass(frozen=True)
class HeadFrame:
    """`origin` (3,) on the middle plane; rows of `axes` (3, 3): the character's left, its own up, forward. `spread` is the median
    distance in cm of mirror images from the surface's own vertices: 0 for a head that is exactly symmetric."""

    origin: Floats
    axes: Floats
    spread: float

    @property
    def plane(self) -> Plane:
        return Plane(self.origin, self.axes[0])

    def local(self, points: Floats) -> Floats:
        """Points (N, 3) along left, up and forward."""
        return np.asarray((points - self.origin) @ self.axes.T)

    def world(self, local: Floats) -> Floats:
        """The inverse of `local`."""
        return np.asarray(local @ self.axes + self.origin)

    def looking(self, gaze: Floats) -> HeadFrame:
        """The same, nodded so that a gaze (3,) is forward: eyes are modelled looking straight ahead. A gaze far off the level is
        not believed."""
        left, up, forward = self.axes
        nod = np.degrees(np.arctan2(gaze @ up, gaze @ forward))
        if abs(nod) > MOST_TILT:
            return self
        ahead = unit(gaze - (gaze @ left) * left)
        return HeadFrame(self.origin, np.stack([left, np.cross(ahead, left), ahead]), self.spread)


def find_frame(skin: Floats, eyes: Sequence[Floats]) -> HeadFrame:
    """The frame of a head that stands about upright (Y up), turned about Y at will. `skin` (N, 3), `eyes` centres of eyeballs.

    It leans sideways with the middle plane; how far it nods is not seen here.
    """
    centre = skin.mean(axis=0)
    if len(eyes) == 2:
        starts = [Plane((eyes[0] + eyes[1]) / 2, unit(_level(eyes[0] - eyes[1])))]
    else:
        turns = np.radians(HEADINGS)
        starts = [Plane(centre, np.array([np.cos(a), 0.0, -np.sin(a)])) for a in turns]
    plane, spread = estimate_plane(skin, starts)
    left = unit(plane.normal)
    forward = unit(np.cross(left, UP))
    front = (np.mean(eyes, axis=0) - centre) if len(eyes) else np.array([0.0, 0.0, 1.0])
    if forward @ front < 0:
        left, forward = -left, -forward
    middle = np.mean(eyes, axis=0) if len(eyes) else centre
    origin = middle - left * float((middle - plane.point) @ left)
    return HeadFrame(origin, np.stack([left, np.cross(forward, left), forward]), spread)


def _level(v: Floats) -> Floats:
    return np.array([v[0], 0.0, v[2]])
