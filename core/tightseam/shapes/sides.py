"""Left and right of shapes: mirrored, flipped, split."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.lookup import points, polygons
from tightseam.document.model import Character, Side
from tightseam.document.twins import other_side
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.symmetry import Plane, symmetry_map
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.found import plane_of
from tightseam.shapes.offsets import Offsets

TOLERANCE = 0.05  # cm within which a vertex counts as the mirror image of another
ROUGH = 1.0  # cm within which one that has no mirror image stands for another that has none
CHOICE = 16  # of those nearest to where the mirror image would be


@dataclass(frozen=True)
class MirroredPart:
    """The part on the other side of a part, itself for one in the middle, and for each of its vertices (N,) which of the other's stands
    for it there, -1 for none; partners of partners are the vertices themselves. Where `exact` (N,) it is its mirror image."""

    part: str
    partner: Ints
    exact: Bools

    @property
    def alone(self) -> Ints:
        """The vertices that nothing on the other side stands for."""
        return np.flatnonzero(self.partner < 0)


class Sides:
    """The mirror of a character's parts. What is costly is made when first asked for."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self._character, self._store = character, store
        self.plane: Plane = plane_of(character, store)
        self._parts: dict[str, MirroredPart] = {}

    def of(self, part: str) -> MirroredPart:
        if part not in self._parts:
            found = self._parts[part] = self._found(part)
            if found.part != part:  # the twin's is the same the other way round
                self._parts[found.part] = self._the_other_way(part, found)
        return self._parts[part]

    def left(self, part: str) -> Floats:
        """How far to the left of the middle each vertex of a part lies, (N,) cm."""
        normal = self.plane.normal if self.plane.normal[0] >= 0 else -self.plane.normal
        return np.asarray((points(self._character, self._store, part) - self.plane.point) @ normal)

    def _the_other_way(self, name: str, found: MirroredPart) -> MirroredPart:
        count = len(points(self._character, self._store, found.part))
        partner, exact, there = np.full(count, -1), np.zeros(count, bool), found.partner >= 0
        partner[found.partner[there]], exact[found.partner[there]] = np.flatnonzero(there), found.exact[there]
        return MirroredPart(name, partner, exact)

    def _found(self, name: str) -> MirroredPart:
        own = points(self._character, self._store, name)
        twin = other_side(name)
        part = next(p for p in self._character.parts if p.name == name)
        other = next((p for p in self._character.parts if p.name == twin), None)
        if other is None:
            walked = symmetry_map(own, polygons(self._store, part), self.plane, TOLERANCE)
            off = np.linalg.norm(self.plane.mirrored(own) - own[walked], axis=1)
            exact = np.where((walked >= 0) & (off <= ROUGH), walked, -1)  # of one tuft of hair it walks on to a quite different one
            return MirroredPart(name, _filled(exact, exact, own, own, self.plane), exact >= 0)
        there = points(self._character, self._store, other.name)
        far, to = cKDTree(there).query(self.plane.mirrored(own))
        back = cKDTree(own).query(self.plane.mirrored(there))[1]
        exact = np.where((far <= TOLERANCE) & (back[to] == np.arange(len(own))), to, -1)
        taken = np.full(len(there), -1)
        taken[exact[exact >= 0]] = np.flatnonzero(exact >= 0)
        return MirroredPart(other.name, _filled(exact, taken, own, there, self.plane), exact >= 0)


@derived("parts")
def sides_of(character: Character, store: ArrayStore) -> Sides:
    """The mirror of a character's parts."""
    return Sides(character, store)


def alone(character: Character, store: ArrayStore, parts: Iterable[str]) -> dict[str, int]:
    """How many vertices of some parts nothing stands for on the other side, where there are any."""
    sides = sides_of(character, store)
    found = {part: len(sides.of(part).alone) for part in sorted(set(parts))}
    return {part: count for part, count in found.items() if count}


def flipped(sides: Sides, offsets: Mapping[str, Floats]) -> Offsets:
    """The mirror image: what the left did, the right does. Twice it is what it was; vertices that nothing stands for on the other side
    keep what they do."""
    found: Offsets = {}
    for part, own in offsets.items():
        mirror = sides.of(part)
        there = mirror.partner >= 0
        image = found.setdefault(mirror.part, np.zeros((len(sides.of(mirror.part).partner), 3)))
        image[mirror.partner[there]] = _reflected(sides.plane, own[there])
        if len(mirror.alone):
            found.setdefault(part, np.zeros_like(own))[mirror.alone] = own[mirror.alone]
    return found


def mirrored(sides: Sides, offsets: Mapping[str, Floats], of: Side) -> Offsets:
    """One side copied over to the other; in the middle the mean of what both would do. Twice is as good as once; vertices that nothing
    stands for on the other side keep what they do."""
    image = flipped(sides, offsets)
    sign = 1.0 if of == "L" else -1.0
    found: Offsets = {}
    for part in {**offsets, **image}:
        mirror = sides.of(part)
        own, other = (x.get(part, np.zeros((len(mirror.partner), 3))) for x in (offsets, image))
        from_here = sign * sides.left(part) > 0
        crossed = from_here == from_here[np.maximum(mirror.partner, 0)] if mirror.part == part else np.zeros(len(own), bool)
        middle = crossed & (mirror.partner >= 0)  # on the same side as what stands for it: over the middle, or on it
        found[part] = np.where(middle[:, None], (own + other) / 2, np.where(from_here[:, None], own, other))
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


def _filled(exact: Ints, taken: Ints, own: Floats, there: Floats, plane: Plane) -> Ints:
    """Partners (N,) of vertices (N, 3) among others (M, 3), itself or of the twin, those that have no mirror image given one another: the
    nearest first, none twice, none farther than ROUGH from the other's mirror image. `exact` (N,) and `taken` (M,) are the partners that
    they have."""
    itself = exact is taken
    free, open_to = np.flatnonzero(exact < 0), np.flatnonzero(taken < 0)
    found, back = exact.copy(), taken.copy()
    if not len(free) or not len(open_to):
        return found
    count = min(CHOICE, len(open_to))
    far, near = cKDTree(there[open_to]).query(plane.mirrored(own[free]), k=count, distance_upper_bound=ROUGH)
    far, near = far.reshape(-1, count), near.reshape(-1, count)
    row, column = np.nonzero(np.isfinite(far))
    one, other = free[row], open_to[near[row, column]]
    for k in np.argsort(far[row, column], kind="stable").tolist():
        i, j = int(one[k]), int(other[k])
        if found[i] < 0 and back[j] < 0:
            found[i], back[j] = j, i
            if itself:
                found[j], back[i] = i, j
    return found
