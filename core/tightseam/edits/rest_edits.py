"""A pose taken as the rest pose."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from tightseam.body.rest import resting_as
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import control_label
from tightseam.document.model import Character
from tightseam.document.poses import away_from_rest
from tightseam.edits.base import Edit

MOST_NAMED = 3


class TakeRest(Edit):
    """A pose becomes the rest pose: controls at rest are where they were at these values. Joints move along with what they carry, or stay
    where they stood."""

    takes_long = True

    values: dict[str, float] = Field(max_length=5000)
    joints: Literal["move", "stay"] = "move"

    def apply(self, character: Character, store: ArrayStore) -> Character:
        values = checked_values(character, self.values)
        if not away_from_rest(character, values):
            raise BadRequest("This is the rest pose already. Pose the head first.")
        return resting_as(character, store, values, self.joints)

    def describe(self, character: Character) -> str:
        named = [control_label(character, name) for name in list(self.values)[:MOST_NAMED]]
        more = f" and {len(self.values) - MOST_NAMED} more" if len(self.values) > MOST_NAMED else ""
        stay = ", joints where they were" if self.joints == "stay" else ""
        return f"Took a pose as the rest: {', '.join(named)}{more}{stay}"
