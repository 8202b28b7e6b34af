"""What the skin does, for parts that lie on it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, Part
from tightseam.geometry.types import Floats
from tightseam.landmarks.surface import surface_of
from tightseam.shapes.offsets import Offsets
from tightseam.shapes.sides import Sides, flipped
from tightseam.shapes.spread import carried_along

LIES_ON_SKIN = ("brow", "lash", "whiskers")


def flipped_with_riders(character: Character, store: ArrayStore, offsets: Mapping[str, Floats]) -> Offsets:
    """The mirror image of a shape; what lies on the skin and has no mirror image of its own, as whiskers have none, goes along with it."""
    sides = Sides(character, store)
    found = flipped(sides, offsets)
    skin = next((p for p in character.parts if p.kind == "skin" and p.name in found), None)
    for part in character.parts:
        lost = sides.of(part.name).partner < 0 if part.name in offsets and part.kind in LIES_ON_SKIN else np.zeros(0, bool)
        if skin is not None and lost.any():
            along = taken_along(character, store, part, skin, found[skin.name])
            found[part.name] = np.where(lost[:, None], along, found.get(part.name, 0.0))
    return found


def taken_along(character: Character, store: ArrayStore, part: Part, skin: Part, offsets: Floats) -> Floats:
    """Offsets (K, 3) of a part from those of the skin under it (N, 3)."""
    return carried_along(surface_of(character, store, skin), offsets, np.asarray(store.get(part.points)))
