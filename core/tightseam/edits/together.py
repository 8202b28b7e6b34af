"""Several edits as one."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.edits.base import Edit

MOST_STEPS = 500
TOGETHER = "edits.together"


class NamedEdit(BaseModel):
    """An edit by its name, with its parameters as they are written."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    edit: str = Field(max_length=64)
    params: dict[str, Any]


def steps_of(edit: NamedEdit) -> list[NamedEdit]:
    """An edit, or those that it makes together: such an edit cannot be one of such again."""
    return [NamedEdit.model_validate(step) for step in edit.params["steps"]] if edit.edit == TOGETHER else [edit]


class Together(Edit):
    """Several edits, one on what the other made, as one that can be tried, stored and undone."""

    takes_long = True

    steps: tuple[NamedEdit, ...] = Field(min_length=1, max_length=MOST_STEPS)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        for edit in self._edits():
            character = edit.apply(character, store)
        return character

    def describe(self, character: Character) -> str:
        said = [edit.describe(character) for edit in self._edits()]
        return said[0] if len(said) == 1 else f"{said[0]}, and {len(said) - 1} more"

    def remark(self, before: Character, store: ArrayStore) -> str:
        edits = self._edits()
        return edits[0].remark(before, store) if len(edits) == 1 else ""

    def _edits(self) -> list[Edit]:
        from tightseam.edits.registry import make_step  # which knows this one too

        if any(step.edit == TOGETHER for step in self.steps):
            raise BadRequest("Edits that are made together cannot hold such edits again.")
        return [make_step(step.edit, step.params).params for step in self.steps]
