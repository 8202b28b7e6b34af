"""The regions of a skin that may sink in."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.geodesic import distance_from
from tightseam.geometry.types import Bools, Floats
from tightseam.head.surface import Surface

CHEEK = 0.92  # of the way from the middle of a cheek to the corner of the mouth that counts as cheek
UNDER = 0.6  # of the way from the middle under the jaw to the chin
REGIONS = {"cheek_L": "Cheek L", "cheek_R": "Cheek R", "under": "Under the jaw"}


def patches_of(surface: Surface, outside: Bools) -> dict[str, Bools]:
    """The regions by name, (N,) each, on the `outside` (N,) of a skin; BadRequest where a landmark is missing."""
    found = {}
    for side in "LR":
        corner = surface.mark(f"mouth_corner_{side}")
        middle = (surface.mark(f"cheek_{side}") + corner + surface.mark(f"jaw_angle_{side}")) / 3
        found[f"cheek_{side}"] = _about(surface, outside, middle, corner, CHEEK)
    chin, neck = surface.mark("chin_under"), surface.mark("neck_top")
    found["under"] = _about(surface, outside, chin + 0.45 * (neck - chin), surface.mark("chin_front"), UNDER)
    return found


def _about(surface: Surface, outside: Bools, middle: Floats, edge: Floats, share: float) -> Bools:
    outer = np.flatnonzero(outside)
    start = outer[np.linalg.norm(surface.points[outer] - middle, axis=1).argmin()]
    distance, _ = distance_from(surface.graph, np.array([start]))
    reach = distance[surface.nearest_vertex(edge)]
    return outside & (distance < share * reach)
