"""What an edit is."""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import ClassVar

from pydantic import BaseModel, ConfigDict

from tightseam.document.arrays import ArrayStore
from tightseam.document.check import check_names
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.model import Character


def checked(character: Character) -> Character:
    """The character, which holds together; BadRequest where it does not."""
    try:
        check_names(character)
    except BadDocument as error:
        raise BadRequest(str(error)) from None
    return character


class Edit(BaseModel, ABC):
    """Parameters of a change. The same edit on the same character gives the same character, to the bit."""

    takes_long: ClassVar[bool] = False  # over half a second on a usual head: done beside the requests
    drawn: ClassVar[bool] = False  # a stroke: nobody tries it before, and what it makes is known from having been drawn

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)

    @abstractmethod
    def apply(self, character: Character, store: ArrayStore) -> Character:
        """The changed character; new arrays go into `store`. BadRequest where the edit does not fit."""

    @abstractmethod
    def describe(self, character: Character) -> str:
        """What was done, for History: "Gave Lower teeth to Jaw"."""

    def remark(self, before: Character, store: ArrayStore) -> str:
        """What it did to the character beyond what was asked for, to be said after its description; nothing mostly."""
        return ""
