"""How an eyeball sits: the ball it lies on, how round it is, and how far its pivot is from the middle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.document.units import CM_TO_MM
from tightseam.geometry.areas import vertex_areas
from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.types import Bools, Floats

CORNEA = 40.0  # degrees about the gaze that may bulge or be hollow
ROUNDS = 3  # of finding the belt about the centre that the last one gave
LEAST_BELT = 12  # vertices a ball can be fitted to


@dataclass(frozen=True)
class EyeBall:
    """The ball (`centre` (3,), `radius`; cm) that the white of an eye lies on.

    `miss` (N,) is how far each vertex lies outside it in mm, 0 for iris, cornea and loose vertices; `white` (N,) says which
    vertices should lie on it. `gaze` (3,) is the unit direction the eye looks in.
    """

    centre: Floats
    radius: float
    gaze: Floats
    white: Bools
    miss: Floats

    @property
    def worst(self) -> int:
        """The vertex that lies farthest off the ball."""
        return int(np.abs(self.miss).argmax())

    @property
    def roundness(self) -> float:
        """Highest against lowest place of the white, mm: the width of the ring that holds it (as ISO 1101 measures roundness)."""
        return float(np.ptp(self.miss[self.white])) if self.white.any() else 0.0

    @property
    def rms(self) -> float:
        """Root mean square of the misses of the white, mm."""
        return float(np.sqrt((self.miss[self.white] ** 2).mean())) if self.white.any() else 0.0

    def pivot_error(self, pivot: Floats) -> float:
        """Distance of a pivot (3,) from the centre, mm."""
        return float(np.linalg.norm(np.asarray(pivot) - self.centre)) * CM_TO_MM


def fit_eyeball(points: Floats, polygons: Polygons, gaze: Floats) -> EyeBall:
    """The ball of an eye from its points (N, 3).

    It is fitted (fit_sphere, by area) to the belt between the cornea and as far from the back: an eye pressed flat along the gaze
    then keeps its centre, whatever bulges in front or is missing behind.
    """
    centre, radius = fit_sphere(points)
    used = np.isin(np.arange(len(points)), polygons.corners)
    areas = vertex_areas(points, polygons)
    edge = np.cos(np.radians(CORNEA))
    for _ in range(ROUNDS):
        belt = used & (np.abs(unit(points - centre) @ gaze) < edge)
        if belt.sum() < LEAST_BELT:
            break
        centre, radius = fit_sphere(points[belt], rounds=1, areas=areas[belt])
    white = used & (unit(points - centre) @ gaze < edge)
    miss = np.where(white, np.linalg.norm(points - centre, axis=1) - radius, 0.0) * CM_TO_MM
    return EyeBall(centre, radius, np.asarray(gaze, float), white, miss)
