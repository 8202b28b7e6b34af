"""Areas of polygons, and of the surface that each vertex stands for."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats


def polygon_areas(points: Floats, polygons: Polygons) -> Floats:
    """Sum of the areas of the triangles each polygon fans into about its middle, (F,) in cm²."""
    face = polygons.face_of_corner
    middle = np.stack([np.bincount(face, points[polygons.corners, k], len(polygons)) for k in range(3)], axis=1) / polygons.sizes[:, None]
    here, there = points[polygons.corners] - middle[face], points[polygons.corners[polygons.next_corner]] - middle[face]
    return np.asarray(np.bincount(face, np.linalg.norm(np.cross(here, there), axis=1) / 2, len(polygons)), float)


def vertex_areas(points: Floats, polygons: Polygons) -> Floats:
    """Each vertex's even share of the polygons round it, (N,) in cm²; they add up to the area of the mesh."""
    share = polygon_areas(points, polygons) / polygons.sizes
    return np.asarray(np.bincount(polygons.corners, share[polygons.face_of_corner], len(points)), float)
