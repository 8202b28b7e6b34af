"""What Check-in looks at."""

from __future__ import annotations

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.head.found import FoundHead


class Subject(FoundHead):
    """A head as it is found, and the limits it is held against."""

    def __init__(self, character: Character, store: ArrayStore, limits: dict[str, float]) -> None:
        super().__init__(character, store)
        self.character, self.limits = character, limits
