"""Selections that are kept under a name."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

import numpy as np
from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import by_name
from tightseam.document.model import Character, Selection
from tightseam.edits.base import Edit
from tightseam.weights.patch import Patch

MOST_SELECTIONS = 200


class KeepSelection(Edit):
    """Keep vertices of a part under a name; one of that name is replaced."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    part: str
    vertices: list[int] = Field(min_length=1, max_length=2_000_000)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        name = " ".join(self.name.split())
        if not name:
            raise BadRequest("A selection needs a name.")
        others = tuple(s for s in character.selections if s.name != name)
        if len(others) >= MOST_SELECTIONS:
            raise BadRequest(f"{MOST_SELECTIONS} selections are kept already; remove one first.")
        vertices = Patch(character, store, self.part, self.vertices, []).vertices
        return replace(character, selections=(*others, Selection(name, self.part, store.put(vertices.astype(np.int32)))))

    def describe(self, character: Character) -> str:
        return f"Kept the selection {' '.join(self.name.split())}"


class RemoveSelection(Edit):
    name: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        gone = by_name(character.selections, self.name, "selection")
        return replace(character, selections=tuple(s for s in character.selections if s is not gone))

    def describe(self, character: Character) -> str:
        return f"Removed the selection {self.name}"
