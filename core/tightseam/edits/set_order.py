"""Putting the stages of deformation of a part in order."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character
from tightseam.edits.base import Edit


class SetOrder(Edit):
    """Let shapes come before the bones of a part, as they should, or after them."""

    part: str
    first: Literal["shapes", "bones"] = "shapes"

    def apply(self, character: Character, store: ArrayStore) -> Character:
        binding = find_binding(character, find_part(character, self.part).name)
        if binding is None:
            raise BadRequest(f"{part_label(self.part)} is carried by nothing yet, so there is no order to it.")
        return with_binding(character, replace(binding, bones_first=self.first == "bones"))

    def describe(self, character: Character) -> str:
        return f"Put {self.first} first on {part_label(self.part)}"
