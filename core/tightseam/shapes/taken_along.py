"""What the skin does, for parts that lie on it."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, Part
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.types import Floats
from tightseam.head.hair import hair_of
from tightseam.head.surface import surface_of
from tightseam.shapes.offsets import Offsets
from tightseam.shapes.sides import Sides, sides_of
from tightseam.shapes.spread import carried_along
from tightseam.shapes.strays import STILL, strays

LIES_ON_SKIN = ("brow", "lash", "whiskers", "hair")


def changed_with_riders(
    character: Character, store: ArrayStore, offsets: Mapping[str, Floats], change: Callable[[Sides, Mapping[str, Floats]], Offsets]
) -> Offsets:
    """A shape after a `change` between its sides. What lies on the skin and has no mirror image of its own, as hair and whiskers have
    none, goes along with the changed skin; what it does beside that is changed vertex by vertex."""
    sides = sides_of(character, store)
    skin = next((p for p in character.parts if p.kind == "skin" and p.name in offsets), None)
    riding = {b.part for b in character.bindings if b.ride is not None}
    lying = [p for p in character.parts if p.kind in LIES_ON_SKIN and p.name in offsets and p.name not in riding]
    rough = [p for p in lying if not sides.of(p.name).exact.all()]
    if skin is None or not rough:
        return change(sides, offsets)

    def along(part: Part, of: Mapping[str, Floats]) -> Floats:
        return taken_along(character, store, part, skin, of[skin.name])

    found = change(sides, {**offsets, **{p.name: offsets[p.name] - along(p, offsets) for p in rough}})
    for part in rough:
        found[part.name] = found.get(part.name, 0.0) + along(part, found)
    return found


def taken_along(character: Character, store: ArrayStore, part: Part, skin: Part, offsets: Floats) -> Floats:
    """Offsets (K, 3) of a part from those of the skin under it (N, 3): of hair and whiskers by where they stand."""
    if part.kind in ("whiskers", "hair"):
        along = hair_of(character, store, part, skin).taken_along(offsets)
        along[strays(part_mesh(store, part).neighbours, along, 0.0)] = 0  # where hair stands at the rim of what moves
        return along
    return carried_along(surface_of(character, store, skin), offsets, np.asarray(store.get(part.points)))


def with_riders(character: Character, store: ArrayStore, skin: Part, offsets: Floats) -> Offsets:
    """Offsets of a skin and of what lies on it, but for what rides on it anyway and for lashes, which go with the lids."""
    riding = {b.part for b in character.bindings if b.ride is not None}
    along = [p for p in character.parts if p.kind in LIES_ON_SKIN and p.kind != "lash" and p.name not in riding]
    found = {p.name: taken_along(character, store, p, skin, offsets) for p in along}
    return {skin.name: offsets} | {name: x for name, x in found.items() if np.linalg.norm(x, axis=1).max(initial=0) > STILL}
