"""Cells of a sweep: some ends, each at a strength, all else at rest."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tightseam.document.model import Character
from tightseam.document.poses import rest_values
from tightseam.mix.ends import End

STRENGTHS = (0.5, 0.75, 1.0)  # at which ends are measured alone
BETWEEN = ((0.5, 0.5), (0.5, 1.0), (1.0, 0.5))  # at which those are measured together, too, that have a lid or the jaw in common


@dataclass(frozen=True)
class Dialled:
    """An end, by its name, at a strength (0 to 1)."""

    end: str
    strength: float = 1.0

    def __str__(self) -> str:
        return self.end if self.strength == 1.0 else f"{self.end} {self.strength:.0%}"


@dataclass(frozen=True)
class Cell:
    """What is dialled in, in the order of the ends."""

    dialled: tuple[Dialled, ...]

    def __str__(self) -> str:
        return " × ".join(map(str, self.dialled)) or "rest"

    @property
    def ends(self) -> tuple[str, ...]:
        return tuple(d.end for d in self.dialled)

    def without(self, end: str) -> Cell:
        return Cell(tuple(d for d in self.dialled if d.end != end))

    def values(self, character: Character, ends: Mapping[str, End]) -> dict[str, float]:
        """The value of every control."""
        return rest_values(character) | {ends[d.end].control: ends[d.end].at(d.strength) for d in self.dialled}


REST = Cell(())
