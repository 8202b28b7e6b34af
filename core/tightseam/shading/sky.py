"""How much of the open sky each point of a surface sees, and how thin what lies behind it is, by rays."""

from __future__ import annotations

import numpy as np
from igl import embree

from tightseam.geometry.types import Floats, Ints

RAYS = 64  # a vertex
FEWEST = 8
MOST_RAYS = 2_000_000  # in all: a scan of a million vertices takes fewer each
THICKNESS_RAYS = 64


def open_sky(points: Floats, normals: Floats, mesh: Floats, triangles: Ints, lift: float) -> Floats:
    """Share (K,) of the half space over each point (K, 3) with its normal that no triangle of a mesh hides: 1 in the open, 0 shut in.

    Points are raised by `lift` cm first, so that a surface does not hide itself. Ambient occlusion over a uniform hemisphere
    (Zhukov, Iones & Kronin 1998).
    """
    if not len(points) or not len(triangles):
        return np.ones(len(points))
    rays = int(np.clip(MOST_RAYS // len(points), FEWEST, RAYS))
    hidden = embree.ambient_occlusion(_f(mesh), _i(triangles), _f(points + lift * normals), _f(normals), rays)
    return 1 - np.nan_to_num(np.asarray(hidden), nan=0.0)


def thickness(points: Floats, normals: Floats, triangles: Ints, lift: float) -> Floats:
    """How thick a body is behind each vertex (N,), cm: the mean way of rays inwards (Shapira, Shamir & Cohen-Or 2008); infinite
    where they leave it through a hole."""
    found = np.asarray(embree.shape_diameter_function(_f(points), _i(triangles), _f(points - lift * normals), _f(normals), THICKNESS_RAYS))
    return np.where(np.isfinite(found) & (found > 0), found, np.inf)


def _f(array: Floats) -> Floats:
    return np.ascontiguousarray(array, np.float64)


def _i(array: Ints) -> Ints:
    return np.ascontiguousarray(array, np.int64)
