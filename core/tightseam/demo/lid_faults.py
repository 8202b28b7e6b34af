"""Faults in the lids of the demo cast, planted by code that says what it plants."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import points
from tightseam.document.make import make_delta
from tightseam.document.model import Character, EyeRelief, PartDelta, Shape
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.types import Floats
from tightseam.lids.tune import eye_relief_of, lids_of, with_eye_relief, with_lids

THIN = 0.3  # of the eye relief, where it has been brushed away
SINK = 0.12  # cm by which the smile pushes the lower lid towards the eye
SHY = 0.45  # of the closing that a patch of the upper lid takes


@dataclass(frozen=True)
class PlantedLid:
    """What is wrong: the findings that may show it, on which lid, the edit that is to repair it, and the vertices of the skin."""

    checks: frozenset[str]
    side: str
    lid: str
    edit: str
    vertices: frozenset[int]


class LidFaults:
    """Plants faults in lids, by landmarks."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self.character, self.store = character, store
        self.planted: list[PlantedLid] = []
        self._skin = points(character, store, "skin")
        self._marks = {m.name: np.array(m.point) for m in character.landmarks}

    def near(self, mark: str, reach: float) -> Floats:
        """How near (N,) to a landmark: 1 at it, 0 from `reach` cm on."""
        far = np.linalg.norm(self._skin - self._marks[mark], axis=1)
        return np.asarray(1 - smoothstep(far / reach))

    def thin_relief(self, side: str) -> None:
        """Eye relief brushed away on the lower lid, under a smile that presses it back: with a blink the lid goes through the eye."""
        near = self.near(f"lid_lower_{side}", 0.9)
        relief = self._relief(side)
        vertices, amount = (np.asarray(self.store.get(key)) for key in (relief.vertices, relief.amount))
        hole = near[vertices] > 0.3
        thin = replace(relief, amount=self.store.put(np.where(hole, THIN * amount, amount).astype(np.float32)))
        self.character = with_eye_relief(self.character, thin)
        centre = self._marks[f"eye_centre_{side}"]
        inwards = centre - self._skin
        inwards /= np.linalg.norm(inwards, axis=1)[:, None]
        self._press("smile", SINK * near[:, None] * inwards)
        self._plant({"lid_in_eye", "eye_in_lid"}, side, "lower", "lids.fit_relief", vertices[hole])

    def stiff(self, side: str) -> None:
        """Lids that do not sink back where the cornea has turned away: a gaze to the side leaves them."""
        relief = self._relief(side)
        none = np.zeros(len(np.asarray(self.store.get(relief.settle))), np.float32)
        self.character = with_eye_relief(self.character, replace(relief, settle=self.store.put(none)))
        for lid in ("upper", "lower"):
            self._plant({"off_eye"}, side, lid, "lids.fit_relief", np.asarray(self.store.get(relief.vertices)))

    def shy_patch(self, side: str) -> None:
        """A patch of the upper lid takes too little of the closing: it stops short there, and creases round it."""
        pair = lids_of(self.character, side)
        vertices, upper, share = (np.asarray(self.store.get(key)) for key in (pair.vertices, pair.upper, pair.share))
        patch = (self.near(f"lid_upper_{side}", 0.75)[vertices] > 0.3) & (upper == 1)
        shy = replace(pair, share=self.store.put(np.where(patch, SHY * share, share).astype(np.float32)))
        self.character = with_lids(self.character, shy)
        self._plant({"short", "crease", "stretch", "lid_in_eye"}, side, "upper", "lids.mend_map", vertices[patch])

    def _relief(self, side: str) -> EyeRelief:
        found = eye_relief_of(self.character, lids_of(self.character, side))
        assert found is not None
        return found

    def _press(self, shape: str, offsets: Floats) -> None:
        """Add offsets (N, 3) on the skin to a shape."""
        self.character = replace(self.character, shapes=tuple(_changed(s, shape, self._added(offsets)) for s in self.character.shapes))

    def _added(self, offsets: Floats) -> Callable[[PartDelta], PartDelta | None]:
        def changed(delta: PartDelta) -> PartDelta | None:
            if delta.part != "skin":
                return delta
            whole = offsets.copy()
            whole[np.asarray(self.store.get(delta.vertices))] += np.asarray(self.store.get(delta.offsets))
            return make_delta(self.store, "skin", whole)

        return changed

    def _plant(self, checks: set[str], side: str, lid: str, edit: str, vertices: Floats) -> None:
        self.planted.append(PlantedLid(frozenset(checks), side, lid, edit, frozenset(vertices.tolist())))


def plant_in_lids(character: Character, store: ArrayStore) -> tuple[Character, tuple[PlantedLid, ...]]:
    """Hob's lids: thin relief on the lower left one, a shy patch on the upper left one, and right ones that do not sink back."""
    f = LidFaults(character, store)
    f.thin_relief("L")
    f.shy_patch("L")
    f.stiff("R")
    return f.character, tuple(f.planted)


def _changed(shape: Shape, name: str, change: Callable[[PartDelta], PartDelta | None]) -> Shape:
    if shape.name != name:
        return shape
    return replace(shape, deltas=tuple(d for d in map(change, shape.deltas) if d is not None))
