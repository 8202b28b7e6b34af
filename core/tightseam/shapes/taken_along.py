"""What the skin does, for parts that lie on it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import polygons, vertex_set
from tightseam.document.model import Character, Part
from tightseam.geometry.adjacency import islands
from tightseam.geometry.types import Floats
from tightseam.landmarks.roots import ROOTS, over_tufts, seen
from tightseam.landmarks.surface import surface_of
from tightseam.shapes.offsets import Offsets
from tightseam.shapes.sides import Sides, flipped
from tightseam.shapes.spread import carried_along
from tightseam.shapes.strays import STILL

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
    """Offsets (K, 3) of a part from those of the skin under it (N, 3): of whiskers whose roots are known each tuft goes as these do, on the
    mean, whatever its tip lies on."""
    surface, points = surface_of(character, store, skin), np.asarray(store.get(part.points))
    if part.kind != "whiskers" or ROOTS not in part.sets:
        return carried_along(surface, offsets, points)
    roots = vertex_set(store, part, ROOTS)
    on = np.isin(np.arange(len(offsets)), seen(surface.triangles, skin, store))
    along = carried_along(surface, offsets, points[roots], on)
    return over_tufts(along, roots, islands(polygons(store, part), part.vertex_count))[0]


def with_riders(character: Character, store: ArrayStore, skin: Part, offsets: Floats) -> Offsets:
    """Offsets of a skin and of what lies on it, but for what rides on it anyway and for lashes, which go with the lids."""
    riding = {b.part for b in character.bindings if b.ride is not None}
    along = [p for p in character.parts if p.kind in LIES_ON_SKIN and p.kind != "lash" and p.name not in riding]
    found = {p.name: taken_along(character, store, p, skin, offsets) for p in along}
    return {skin.name: offsets} | {name: x for name, x in found.items() if np.linalg.norm(x, axis=1).max(initial=0) > STILL}
