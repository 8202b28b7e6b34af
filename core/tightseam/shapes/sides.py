"""Left and right of shapes: mirrored, flipped, split."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import points, polygons
from tightseam.document.model import Character, Side
from tightseam.document.twins import other_side
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.symmetry import Plane, symmetry_map
from tightseam.geometry.types import Floats, Ints
from tightseam.landmarks.found import FoundHead
from tightseam.shapes.offsets import Offsets

TOLERANCE = 0.05  # cm within which a vertex counts as the mirror image of another


@dataclass(frozen=True)
class MirroredPart:
    """The part on the other side of a part, itself for one in the middle, and for each of its vertices (N,) which of the other's is its
    mirror image, -1 for none; partners of partners are the vertices themselves."""

    part: str
    partner: Ints


class Sides:
    """The mirror of a character's parts. What is costly is made when first asked for."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self._character, self._store = character, store
        self.plane: Plane = FoundHead(character, store).plane
        self._parts: dict[str, MirroredPart] = {}

    def of(self, part: str) -> MirroredPart:
        if part not in self._parts:
            self._parts[part] = self._found(part)
        return self._parts[part]

    def left(self, part: str) -> Floats:
        """How far to the left of the middle each vertex of a part lies, (N,) cm."""
        normal = self.plane.normal if self.plane.normal[0] >= 0 else -self.plane.normal
        return np.asarray((points(self._character, self._store, part) - self.plane.point) @ normal)

    def _found(self, name: str) -> MirroredPart:
        own = points(self._character, self._store, name)
        twin = other_side(name)
        part = next(p for p in self._character.parts if p.name == name)
        other = next((p for p in self._character.parts if p.name == twin), None)
        if other is None:
            return MirroredPart(name, symmetry_map(own, polygons(self._store, part), self.plane, TOLERANCE))
        there = points(self._character, self._store, other.name)
        far, to = cKDTree(there).query(self.plane.mirrored(own))
        back = cKDTree(own).query(self.plane.mirrored(there))[1]
        return MirroredPart(other.name, np.where((far <= TOLERANCE) & (back[to] == np.arange(len(own))), to, -1))


def flipped(sides: Sides, offsets: Mapping[str, Floats]) -> Offsets:
    """The mirror image: what the left did, the right does. Twice it is what it was; vertices without a partner do nothing."""
    found: Offsets = {}
    for part, x in offsets.items():
        mirror = sides.of(part)
        there = mirror.partner >= 0
        image = found.setdefault(mirror.part, np.zeros((len(sides.of(mirror.part).partner), 3)))
        image[mirror.partner[there]] = _reflected(sides.plane, x[there])
    return found


def mirrored(sides: Sides, offsets: Mapping[str, Floats], of: Side) -> Offsets:
    """One side copied over to the other; in the middle the mean of what both would do. Twice is as good as once."""
    image = flipped(sides, offsets)
    sign = 1.0 if of == "L" else -1.0
    found: Offsets = {}
    for part in {**offsets, **image}:
        own, other = (x.get(part, np.zeros((len(sides.of(part).partner), 3))) for x in (offsets, image))
        away, alone = sign * sides.left(part), sides.of(part).partner == np.arange(len(own))
        found[part] = np.where(alone[:, None], (own + other) / 2, np.where((away > 0)[:, None], own, other))
    return found


def split(sides: Sides, offsets: Mapping[str, Floats], soft: float) -> tuple[Offsets, Offsets]:
    """The left and the right half, which add up to the whole, handing over across `soft` cm to either side of the middle."""
    left: Offsets = {}
    right: Offsets = {}
    for part, x in offsets.items():
        share = smoothstep((sides.left(part) + soft) / (2 * soft))[:, None] if soft > 0 else (sides.left(part) >= 0)[:, None]
        left[part] = share * x
        right[part] = x - left[part]
    return left, right


def _reflected(plane: Plane, vectors: Floats) -> Floats:
    return np.asarray(vectors - 2 * (vectors @ plane.normal)[:, None] * plane.normal)
