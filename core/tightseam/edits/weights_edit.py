"""What all edits of weights share: vertices of a part, locked bones, mirrored work."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.labels import part_label, vertices_said
from tightseam.document.lookup import bone as find_bone
from tightseam.document.model import Character
from tightseam.edits.base import Edit
from tightseam.geometry.types import Floats
from tightseam.head.found import plane_of
from tightseam.weights.change import capped
from tightseam.weights.patch import Patch
from tightseam.weights.rows import MOST_INFLUENCES, with_rows

Vertices = Annotated[list[int], Field(min_length=1, max_length=2_000_000)]
TWINNED = ("bone", "to")  # fields that name bones


class WeightsEdit(Edit):
    """An edit of weights. Locked bones keep theirs to the bit. With `mirror` the same is done on the other side, by the twins."""

    part: str
    vertices: Vertices
    locked: list[str] = Field(default=[], max_length=2000)
    mirror: bool = False

    def apply(self, character: Character, store: ArrayStore) -> Character:
        patch = Patch(character, store, self.part, self.vertices, self.locked)
        changed = self._applied(character, store, patch)
        if self.mirror:
            other = self._across(character, store, patch)
            if other is not None:
                changed = other._applied(changed, store, Patch(changed, store, self.part, other.vertices, other.locked))
        return changed

    def changed(self, patch: Patch) -> Floats:
        """The weights (K, B) after the edit. BadRequest where it cannot be done."""
        raise NotImplementedError

    def _applied(self, character: Character, store: ArrayStore, patch: Patch) -> Character:
        rows = self.changed(patch)
        return with_binding(character, with_rows(store, patch.binding, patch.bones, patch.vertices, rows))

    def _across(self, character: Character, store: ArrayStore, patch: Patch) -> WeightsEdit | None:
        """The same on the other side; vertices that would be changed twice in the same way are left out."""
        image = patch.mirrored(plane_of(character, store))
        twin = {b.name: b.twin or b.name for b in character.bones}
        names = {f: twin.get(getattr(self, f), getattr(self, f)) for f in TWINNED if getattr(self, f, None) is not None}
        image = np.unique(image[image >= 0])
        if all(names[f] == getattr(self, f) for f in names):
            image = np.setdiff1d(image, patch.vertices)
        if not len(image):
            return None
        locked = [twin.get(name, name) for name in self.locked]
        return self.model_copy(update={**names, "vertices": image.tolist(), "locked": locked, "mirror": False})

    def _where(self) -> str:
        both = " and the other side" if self.mirror else ""
        return f"{vertices_said(len(set(self.vertices)))} of {part_label(self.part)}{both}"


class MixingEdit(WeightsEdit):
    """An edit that brings bones together on a vertex. Where there are more than can be posed, the smallest weights go, and it says so."""

    def mixed(self, patch: Patch) -> Floats:
        """The weights (K, B) with all bones that come together."""
        raise NotImplementedError

    def changed(self, patch: Patch) -> Floats:
        return capped(self.mixed(patch), patch.free, MOST_INFLUENCES)

    def remark(self, before: Character, store: ArrayStore) -> str:
        patch = Patch(before, store, self.part, self.vertices, self.locked)
        crowded = int(((self.mixed(patch) > 0).sum(axis=1) > MOST_INFLUENCES).sum())
        return f"; on {crowded} of them the smallest weights of more than {MOST_INFLUENCES} bones went" if crowded else ""


class BoneWeightsEdit(WeightsEdit):
    """An edit of one bone's weights. With `keep_total` the other bones that are not locked give or take in proportion."""

    bone: str
    keep_total: bool = True

    def _label(self, character: Character) -> str:
        return find_bone(character, self.bone).label
