"""A character with what its sweep found."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations
from typing import Unpack

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, Seam
from tightseam.mix.cell import Cell
from tightseam.mix.compare import worst_by
from tightseam.mix.finding import Fault as AnyFault
from tightseam.mix.finding import MixFinding
from tightseam.mix.report import BoardCause, BoardFinding, MixReport, mix_report
from tightseam.mix.sweep import How
from tightseam.mix.sweeper import CellResult, Sweeper
from tightseam.mix.words import said_cell
from tightseam.seams.reading import Reading
from tightseam.tryout.tried import strip_readings

Fault = tuple[str, str, str]  # of a cell: its kind, what it is about, its place


def fault_of(finding: AnyFault) -> Fault:
    return finding.kind, finding.about, finding.place


@dataclass(frozen=True)
class Swept:
    """A character, the report of its sweep, and the results of all cells that it tells of, smaller ones first."""

    character: Character
    store: ArrayStore
    report: MixReport
    cells: Mapping[Cell, CellResult]

    @cached_property
    def sweeper(self) -> Sweeper:
        sweeper = Sweeper(self.character, self.store)
        sweeper.taught({}, self.report.bases)
        return sweeper

    @cached_property
    def strip(self) -> dict[str, tuple[Reading, ...]]:
        """All seams in all test poses."""
        return strip_readings(self.character, self.store)

    def moment(self, cell: Cell) -> str:
        """A cell in words, as a report has it."""
        return f"in {said_cell(cell, self.sweeper.ends)}"

    @cached_property
    def skin(self) -> str | None:
        return next((p.name for p in self.character.parts if p.kind == "skin"), None)

    def worst_of(self, cause: BoardCause) -> BoardFinding:
        return self.report.findings[cause.findings[0]]

    def on_skin(self, cause: BoardCause) -> list[int]:
        """The vertices of the skin that the findings of a cause are at, in the pose of its worst."""
        found, pose = (self.report.findings[k] for k in cause.findings), self.worst_of(cause).values
        return sorted({v for f in found if f.part == self.skin and f.values == pose for v in f.vertices})

    def seam_of(self, finding: BoardFinding) -> Seam | None:
        """The seam that a finding is about; None of the skin itself."""
        return next((s for s in self.character.seams if s.name == finding.about), None)

    def within(self, cell: Cell) -> Iterator[Cell]:
        """The cells that were measured of some of the ends of another, not of all."""
        ends = cell.ends
        for some in (frozenset(few) for count in range(1, len(ends)) for few in combinations(ends, count)):
            yield from self._by_ends.get(some, ())

    def cell_of(self, finding: BoardFinding) -> Cell:
        return self._cells[finding.moment]

    def there_before(self, cell: Cell) -> dict[Fault, MixFinding]:
        """The faults of a cell of three, with those that are not told because two of them have as much: once these are put right they come
        to sight, and are not new."""
        if cell not in self._unhidden:
            self._unhidden[cell] = worst_by(self.sweeper.beyond_ends(cell), fault_of)
        return self._unhidden[cell]

    @cached_property
    def _unhidden(self) -> dict[Cell, dict[Fault, MixFinding]]:
        return {}

    @cached_property
    def _by_ends(self) -> dict[frozenset[str], list[Cell]]:
        found: dict[frozenset[str], list[Cell]] = {}
        for cell in self.cells:
            found.setdefault(frozenset(cell.ends), []).append(cell)
        return found

    @cached_property
    def _cells(self) -> dict[str, Cell]:
        return {self.moment(cell): cell for cell in self.cells}


def swept(character: Character, store: ArrayStore, **how: Unpack[How]) -> Swept:
    """A character swept, with all results."""
    cells: dict[Cell, CellResult] = {}
    how = {**how, "keep": lambda some: cells.update({r.cell: r for r in some})}
    report = mix_report(character, store, **how)
    return Swept(character, store, report, cells)
