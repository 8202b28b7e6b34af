"""Upper teeth against lower teeth."""

from __future__ import annotations

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import points, polygons
from tightseam.document.model import Character
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.distance import signed_distance
from tightseam.geometry.triangulate import triangulate

REACH = 3.0  # cm within which teeth are looked at


def teeth_gap(character: Character, store: ArrayStore) -> float | None:
    """mm between the teeth in the neutral, from vertices of the upper ones, negative where they overlap; None without both."""
    found = [next((p for p in character.parts if p.kind == kind), None) for kind in ("teeth upper", "teeth lower")]
    if found[0] is None or found[1] is None:
        return None
    upper, lower = (points(character, store, p.name) for p in found if p)
    far = np.linalg.norm(upper - lower.mean(axis=0), axis=1)
    near = upper[far < 2 * np.linalg.norm(lower - lower.mean(axis=0), axis=1).max()]
    apart = signed_distance(near, lower, triangulate(lower, polygons(store, found[1])), REACH)
    return float(apart.min(initial=REACH)) * CM_TO_MM
