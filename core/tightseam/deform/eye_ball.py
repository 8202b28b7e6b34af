"""The ball of an eye part: what it turns about, and how far it reaches."""

from __future__ import annotations

import numpy as np

from tightseam.deform.eye_profile import eye_profile
from tightseam.document.arrays import ArrayStore
from tightseam.document.kept import Kept
from tightseam.document.lookup import polygons
from tightseam.document.model import Part
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.types import Floats

BALLS = Kept(32)  # dear to find, and the same for as long as the mesh of an eye stays


def eye_ball(part: Part, store: ArrayStore) -> tuple[Floats, Floats]:
    """Its centre (3,) and its profile (181, 64), cm, float64; not to be written to."""

    def made() -> tuple[Floats, Floats]:
        points = np.asarray(store.get(part.points)).astype(np.float64)
        centre, _ = fit_sphere(points)
        profile = eye_profile(points, triangulate(points, polygons(store, part)), centre)
        centre.flags.writeable = profile.flags.writeable = False
        return centre, profile

    found: tuple[Floats, Floats] = BALLS.get((part.points, part.sizes, part.corners), made)
    return found
