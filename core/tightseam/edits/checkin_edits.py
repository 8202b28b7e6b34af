"""Decisions at Check-in: own limits, and checks that are let be for a reason."""

from __future__ import annotations

from dataclasses import replace

from pydantic import Field

from tightseam.checkin.limits import LIMITS, check_limit
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.edits.base import Edit


class SetLimit(Edit):
    """Hold this character against a limit of its own; without a value against ours again."""

    limit: str
    value: float | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        own = {k: v for k, v in character.checkin.limits.items() if k != self.limit}
        if self.value is not None:
            check_limit(self.limit, self.value)
            own[self.limit] = self.value
        elif self.limit not in character.checkin.limits:
            raise BadRequest(f"This character has no limit “{self.limit}” of its own.")
        return replace(character, checkin=replace(character.checkin, limits=own))

    def describe(self, character: Character) -> str:
        limit = LIMITS[self.limit]
        value = limit.value if self.value is None else self.value
        return f"Set limit: {limit.label} {value:g} {limit.unit}".rstrip()


class Waive(Edit):
    """Let a check be, with the reason; it is listed, but counts no more."""

    check: str = Field(min_length=1, max_length=100)
    reason: str = Field(min_length=3, max_length=500, pattern=r"\S")

    def apply(self, character: Character, store: ArrayStore) -> Character:
        waived = character.checkin.waived | {self.check: self.reason.strip()}
        return replace(character, checkin=replace(character.checkin, waived=waived))

    def describe(self, character: Character) -> str:
        return f"Marked as intended: “{self.check.replace('_', ' ')}”: {self.reason.strip()}"


class Unwaive(Edit):
    """Let a check that was called intended count again."""

    check: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        if self.check not in character.checkin.waived:
            raise BadRequest(f"“{self.check}” is not marked as intended.")
        waived = {k: v for k, v in character.checkin.waived.items() if k != self.check}
        return replace(character, checkin=replace(character.checkin, waived=waived))

    def describe(self, character: Character) -> str:
        return f"Let “{self.check.replace('_', ' ')}” count again"
