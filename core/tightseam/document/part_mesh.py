"""The mesh of a part in its neutral, one for whoever asks."""

from __future__ import annotations

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import polygons
from tightseam.document.model import Part
from tightseam.geometry.surface_mesh import SurfaceMesh


def part_mesh(store: ArrayStore, part: Part) -> SurfaceMesh:
    """Shared for as long as the part keeps its points and polygons."""
    key = ("mesh", part.points, part.sizes, part.corners)
    return DERIVED.get(key, lambda: SurfaceMesh(np.asarray(store.get(part.points)), polygons(store, part)))
