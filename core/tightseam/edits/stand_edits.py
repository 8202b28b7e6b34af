"""Where a character stands."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import bone as find_bone
from tightseam.document.model import Character
from tightseam.document.shifted import shifted
from tightseam.edits.base import Edit

HIGHEST = 1000.0  # cm
THERE = 1e-6


class StandAt(Edit):
    """Move the whole character up or down until a bone begins so many cm above the ground, which is where y is 0."""

    bone: str
    height: Annotated[float, Field(ge=-HIGHEST, le=HIGHEST)]

    def apply(self, character: Character, store: ArrayStore) -> Character:
        found = find_bone(character, self.bone)
        way = self.height - found.base[1]
        if abs(way) < THERE:
            raise BadRequest(f"{found.label} begins {self.height:g} cm above the ground already.")
        return shifted(character, store, np.array([0.0, way, 0.0]))

    def describe(self, character: Character) -> str:
        return f"Moved all so that {find_bone(character, self.bone).label} begins {self.height:g} cm above the ground"
