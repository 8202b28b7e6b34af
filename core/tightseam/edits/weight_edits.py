"""Edits of all weights of some vertices: smoothed, sharpened, evened out, moved, capped, cleaned, copied across."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import bone as find_bone
from tightseam.document.model import Character
from tightseam.edits.weights_edit import MixingEdit, WeightsEdit
from tightseam.geometry.types import Floats
from tightseam.head.found import plane_of
from tightseam.weights.change import capped, cleaned, evened, given, moved, normalised, sharpened, smoothed, with_free
from tightseam.weights.patch import Patch
from tightseam.weights.rows import with_rows


class SmoothWeights(MixingEdit):
    """Draw weights towards those of their neighbours over the surface: of one bone, or of all that are not locked."""

    bone: str | None = None
    strength: float = Field(default=0.5, gt=0, le=1)
    steps: int = Field(default=1, ge=1, le=100)

    def mixed(self, patch: Patch) -> Floats:
        _, chosen, average, rows = patch.surroundings
        after = smoothed(rows, chosen, average, self.strength, self.steps)[chosen]
        if self.bone is None:
            return with_free(patch.rows, after, patch.free)
        column = patch.column(self.bone)
        return given(patch.rows, column, after[:, column], patch.free)[0]

    def describe(self, character: Character) -> str:
        what = "weights" if self.bone is None else find_bone(character, self.bone).label
        return f"Smoothed {what} on {self._where()}"


class MendWeights(MixingEdit):
    """Give vertices the weights that their surroundings ask for, as if they had none."""

    def mixed(self, patch: Patch) -> Floats:
        return patch.mended() if patch.free.all() else with_free(patch.rows, patch.mended(), patch.free)

    def describe(self, character: Character) -> str:
        return f"Mended {self._where()} from their surroundings"


class SharpenWeights(WeightsEdit):
    """Let the largest weights take from the smaller ones."""

    amount: float = Field(default=0.5, gt=0, le=10)

    def changed(self, patch: Patch) -> Floats:
        return sharpened(patch.rows, patch.free, self.amount)

    def describe(self, character: Character) -> str:
        return f"Sharpened weights on {self._where()}"


class EvenWeights(MixingEdit):
    """Give all vertices of the selection, or of each island in it, the mean of their weights."""

    by: Literal["selection", "island"] = "selection"

    def mixed(self, patch: Patch) -> Floats:
        groups = patch.islands if self.by == "island" else np.zeros(len(patch.vertices), int)
        return with_free(patch.rows, evened(patch.rows, groups), patch.free)

    def describe(self, character: Character) -> str:
        return f"Evened out weights on {self._where()}"


class MoveWeights(WeightsEdit):
    """Give a share of one bone's weight to another."""

    bone: str
    to: str
    share: float = Field(default=1, gt=0, le=1)

    def changed(self, patch: Patch) -> Floats:
        source, target = patch.column(self.bone), patch.column(self.to)
        if source == target:
            raise BadRequest("Weight is moved from one bone to another; both are the same.")
        return moved(patch.rows, source, target, self.share)

    def describe(self, character: Character) -> str:
        source, target = find_bone(character, self.bone).label, find_bone(character, self.to).label
        return f"Moved {self.share:.0%} of {source} to {target} on {self._where()}"


class SwapWeights(WeightsEdit):
    """Let two bones change places."""

    bone: str
    to: str

    def changed(self, patch: Patch) -> Floats:
        one, other = patch.column(self.bone), patch.column(self.to)
        if one == other:
            raise BadRequest("Two bones change places; both are the same.")
        rows = patch.rows.copy()
        rows[:, [one, other]] = rows[:, [other, one]]
        return rows

    def describe(self, character: Character) -> str:
        return f"Swapped {find_bone(character, self.bone).label} and {find_bone(character, self.to).label} on {self._where()}"


class CapWeights(WeightsEdit):
    """Leave each vertex its largest influences."""

    most: int = Field(ge=1, le=8)

    def changed(self, patch: Patch) -> Floats:
        return capped(patch.rows, patch.free, self.most)

    def describe(self, character: Character) -> str:
        return f"Left {self._where()} {self.most} influences at most"


class CleanWeights(WeightsEdit):
    """Take tiny weights away."""

    below: float = Field(default=0.005, gt=0, le=0.5)

    def changed(self, patch: Patch) -> Floats:
        return cleaned(patch.rows, patch.free, self.below)

    def describe(self, character: Character) -> str:
        return f"Took weights below {self.below:g} away from {self._where()}"


class NormaliseWeights(WeightsEdit):
    """Bring totals to 1."""

    def changed(self, patch: Patch) -> Floats:
        return normalised(patch.rows, patch.free)

    def describe(self, character: Character) -> str:
        return f"Brought totals to 1 on {self._where()}"


class CopyWeightsAcross(WeightsEdit):
    """Give the mirror image of each vertex its weights, by the twins of the bones."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        patch = Patch(character, store, self.part, self.vertices, self.locked)
        image = patch.mirrored(plane_of(character, store))
        if (image < 0).all():
            raise BadRequest("None of these vertices has a mirror image on its part.")
        known = image >= 0
        target = Patch(character, store, self.part, image[known].tolist(), self.locked)
        at = np.searchsorted(target.vertices, image[known])
        flipped = target.rows.copy()
        flipped[at] = patch.rows[known][:, patch.twins]
        rows = with_free(target.rows, flipped, target.free)
        return with_binding(character, with_rows(store, target.binding, target.bones, target.vertices, rows))

    def describe(self, character: Character) -> str:
        return f"Copied the weights of {self._where()} to the other side"
