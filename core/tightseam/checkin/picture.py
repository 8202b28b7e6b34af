"""The drawing that goes with a check."""

from __future__ import annotations

import numpy as np

from tightseam.checkin.check import Check
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.pictures.place_picture import place_picture


def picture(character: Character, store: ArrayStore, check: Check) -> str | None:
    """An SVG of the place a check speaks of; None where it speaks of none."""
    points = {p.name: np.asarray(store.get(p.points)) for p in character.parts}
    return place_picture(character.parts, store, points, {p.part: np.array(p.vertices) for p in check.places})
