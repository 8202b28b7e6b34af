"""Which way an eye looks: along the bulge of its cornea."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.areas import vertex_areas
from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats

BULGE = 0.015  # radii outside the ball from where surface counts as cornea
GATHERED = 0.9  # how much of one direction the bulge must be: 1 for a point, 0 for bulges all round


def gaze_of(points: Floats, polygons: Polygons, centre: Floats, radius: float) -> Floats | None:
    """The unit direction (3,) in which an eyeball bulges, the mean over the area outside its ball; None where no one bulge stands out."""
    offset = points - centre
    weight = vertex_areas(points, polygons) * np.maximum(np.linalg.norm(offset, axis=1) - (1 + BULGE) * radius, 0)
    if not weight.any():
        return None
    mean = (weight[:, None] * unit(offset)).sum(axis=0) / weight.sum()
    return unit(mean) if np.linalg.norm(mean) > GATHERED else None
