"""Edits of the weights of one bone: set, added, multiplied, remapped."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from pydantic import Field

from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.edits.weights_edit import BoneWeightsEdit
from tightseam.geometry.types import Floats
from tightseam.weights.change import given, remapped
from tightseam.weights.patch import Patch


class ValueEdit(BoneWeightsEdit):
    """An edit that says what the bone's weight becomes, vertex by vertex."""

    exact: ClassVar[bool] = False  # must it be just the weight that was asked for, on every vertex?

    def changed(self, patch: Patch) -> Floats:
        column = patch.column(self.bone)
        wanted = np.clip(self.wanted(patch.rows[:, column]), 0, 1)
        if not self.keep_total:
            rows = patch.rows.copy()
            rows[:, column] = wanted
            return rows
        rows, unmet = given(patch.rows, column, wanted, patch.free)
        if unmet.any() if self.exact else unmet.all():
            first, more = patch.vertices[unmet.argmax()], int(unmet.sum()) - 1
            others = f" and {more} more" if more else ""
            raise BadRequest(
                f"Other bones that are free carry too little of vertex {first}{others}: totals cannot be kept at 1. "
                "Give it to another bone first, or unlock one."
            )
        return rows

    def wanted(self, weights: Floats) -> Floats:
        """The bone's weights (K,) from those it has."""
        raise NotImplementedError


class SetWeights(ValueEdit):
    """Set the weight of one bone."""

    exact: ClassVar[bool] = True
    value: float = Field(ge=0, le=1)

    def wanted(self, weights: Floats) -> Floats:
        return np.full_like(weights, self.value)

    def describe(self, character: Character) -> str:
        return f"Set {self._label(character)} to {self.value:g} on {self._where()}"


class AddWeights(ValueEdit):
    """Add to the weight of one bone; a negative amount takes away."""

    amount: float = Field(ge=-1, le=1)

    def wanted(self, weights: Floats) -> Floats:
        return weights + self.amount

    def describe(self, character: Character) -> str:
        if self.amount < 0:
            return f"Took {-self.amount:g} of {self._label(character)} away from {self._where()}"
        return f"Added {self.amount:g} of {self._label(character)} to {self._where()}"


class MultiplyWeights(ValueEdit):
    """Multiply the weight of one bone."""

    factor: float = Field(ge=0, le=100)

    def wanted(self, weights: Floats) -> Floats:
        return weights * self.factor

    def describe(self, character: Character) -> str:
        return f"Multiplied {self._label(character)} by {self.factor:g} on {self._where()}"


class RemapWeights(ValueEdit):
    """Stretch the weights of one bone from `low`..`high` to `to_low`..`to_high`; a gamma above 1 lifts the middle."""

    low: float = Field(default=0, ge=0, le=1)
    high: float = Field(default=1, ge=0, le=1)
    gamma: float = Field(default=1, ge=0.05, le=20)
    to_low: float = Field(default=0, ge=0, le=1)
    to_high: float = Field(default=1, ge=0, le=1)

    def changed(self, patch: Patch) -> Floats:
        if not self.low < self.high:
            raise BadRequest(f"Remapping needs a range to start from: {self.low:g} to {self.high:g} is none.")
        return super().changed(patch)

    def wanted(self, weights: Floats) -> Floats:
        return remapped(weights, self.low, self.high, self.gamma, self.to_low, self.to_high)

    def describe(self, character: Character) -> str:
        return f"Remapped {self._label(character)} on {self._where()}"
