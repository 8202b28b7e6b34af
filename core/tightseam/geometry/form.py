"""What can be seen of a mesh at a glance: its bounds, and whether it is a ball."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.types import Floats

LEAST_BALL = 12  # vertices; through four any ball goes


@dataclass(frozen=True)
class Form:
    """Bounds `low` and `high` (3,), and the best ball: `radius`, and `roundness` as form_of says."""

    low: Floats
    high: Floats
    roundness: float
    radius: float

    @property
    def middle(self) -> Floats:
        return np.asarray((self.low + self.high) / 2)

    @property
    def size(self) -> Floats:
        return np.asarray(self.high - self.low)


def form_of(points: Floats) -> Form:
    """`roundness` is the share of the radius by which half of the vertices miss the best ball."""
    if len(points) < LEAST_BALL:
        return Form(points.min(axis=0), points.max(axis=0), 1.0, 0.0)
    centre, radius = fit_sphere(points, rounds=6)
    miss = np.abs(np.linalg.norm(points - centre, axis=1) - radius)
    covers = np.ptp(points, axis=0).min() / max(2 * radius, 1e-9)
    roundness = float(np.median(miss) / max(radius, 1e-9)) if 0.7 < covers < 1.4 else 1.0
    return Form(points.min(axis=0), points.max(axis=0), roundness, radius)
