"""All causes of a sweep put right, one after the other, as far as that harms nothing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Unpack

from pydantic import TypeAdapter

from tightseam.document.progress import part_of_it
from tightseam.edits.together import NamedEdit, steps_of
from tightseam.findings.finding import Unit
from tightseam.mending.mended import ways
from tightseam.mending.mender import Measured
from tightseam.mending.mending import WORSE, Effect, Mending
from tightseam.mending.proposal import Kind
from tightseam.mending.swept import Swept, fault_of, swept
from tightseam.mix.compare import LEAST, changes
from tightseam.mix.intended import with_intended
from tightseam.mix.report import BoardCause, BoardFinding, MixReport
from tightseam.mix.sweep import How

MOST_REPAIRS = 100


@dataclass(frozen=True)
class MendedCause:
    """A cause that was put right, in so many `found` cells but for those `left`."""

    title: str
    moment: str
    found: int
    left: int
    kind: Kind
    text: str


@dataclass(frozen=True)
class Unmended:
    """A cause that stays, nothing that was tried putting half of it right without harm: its worst finding, and in how many cells it is."""

    title: str
    moment: str
    size: float
    limit: float
    unit: Unit
    found: int


@dataclass(frozen=True)
class AllRepaired:
    """What was done, in order, with the `steps` that do it, one on what the other made; what stays; how many findings and causes
    there were and are; and which findings are new or worse: a part that is carried as it should be may show what it hid."""

    repairs: tuple[MendedCause, ...]
    steps: tuple[NamedEdit, ...]
    unmended: tuple[Unmended, ...]
    findings_before: int
    findings_after: int
    causes_before: int
    causes_after: int
    worse: tuple[Effect, ...]


ALL_REPAIRED = TypeAdapter(AllRepaired)


def repaired(first: Swept, **how: Unpack[How]) -> tuple[AllRepaired, Swept]:
    """Again and again the worst cause is put right by the first way that leaves nothing of it and harms nothing, or by the best of those
    that harm nothing or are right in themselves, and what that changes is swept again; until no cause is left that one is found for. What
    the character is then stands beside what was done, swept, in a store of its own."""
    return _Run(first, how).all()


class _Run:
    def __init__(self, first: Swept, how: How) -> None:
        self._first, self._now, self._how = first, first, how
        self._board = _with_intended(first)
        self._repairs: list[MendedCause] = []
        self._steps: list[NamedEdit] = []
        self._stays: dict[tuple[str, ...], tuple[int, Unmended]] = {}  # after how many repairs it was tried

    def all(self) -> tuple[AllRepaired, Swept]:
        while len(self._repairs) < MOST_REPAIRS and (cause := self._next()) is not None:
            done = len(self._repairs)
            total = done + max(self._open(), 1)
            with part_of_it(done / total, (done + 1) / total, f"{done + 1} of {total}, {self._now.worst_of(cause).title}: "):
                self._mend(cause)
        before, after = _with_intended(self._first), self._board
        there = {self._key(c) for c in after.open_causes}
        unmended = tuple(u for key, (_, u) in self._stays.items() if key in there)
        counts = len(before.counting), len(after.counting), len(before.open_causes), len(after.open_causes)
        return AllRepaired(tuple(self._repairs), tuple(self._steps), unmended, *counts, _worse(self._first, self._now)), self._now

    def _open(self) -> int:
        return sum(self._key(c) not in self._stays for c in self._board.open_causes)

    def _next(self) -> BoardCause | None:
        """The worst cause that was not tried; then the worst of those that were before something else was put right."""
        causes = self._board.open_causes
        fresh = next((c for c in causes if self._key(c) not in self._stays), None)
        return fresh or next((c for c in causes if self._stays[self._key(c)][0] < len(self._repairs)), None)

    def _key(self, cause: BoardCause) -> tuple[str, ...]:
        """What a cause is known by, though others about it are put right."""
        worst = self._now.worst_of(cause)
        return worst.kind, worst.about, worst.place, worst.moment

    def _mend(self, cause: BoardCause) -> None:
        worst = self._now.worst_of(cause)
        with part_of_it(0.0, 0.8):
            found = ways(self._now, cause, harmless=True)
        for way in found:
            with part_of_it(0.8, 1.0):
                after = self._swept(way)
            if len(_worse(self._now, after)) <= way.mending.harms:
                self._done(worst, way.mending)
                self._now, self._board = after, _with_intended(after)
                return
        cells = len({self._now.report.findings[k].moment for k in cause.findings})
        unmended = Unmended(worst.title, worst.moment, worst.size, worst.limit, worst.unit, cells)
        self._stays[self._key(cause)] = len(self._repairs), unmended

    def _done(self, worst: BoardFinding, m: Mending) -> None:
        self._repairs.append(MendedCause(worst.title, worst.moment, m.found, m.left, m.kind, m.text))
        self._steps += steps_of(NamedEdit(edit=m.edit, params=m.params))

    def _swept(self, way: Measured) -> Swept:
        """The character with a repair, swept: what it has not changed is as it was."""
        known = {r.cell: r for r in (way.cells.get(cell, result) for cell, result in self._now.cells.items())}
        how: How = {**self._how, "before": known}
        return swept(way.made.changed, way.made.scratch, **how)


def _with_intended(swept: Swept) -> MixReport:
    """The report with what is meant told apart: that is not repaired. Findings are in the same order."""
    return with_intended(swept.report, swept.character.intended)


def _worse(before: Swept, after: Swept) -> tuple[Effect, ...]:
    """The findings that are new or worse: of three expressions, too, that were not swept together before."""
    found = [c for c in changes(before.report, after.report) if c.how in WORSE]
    told = [c for c in found if c.how == "worse" or not _was_there(before, after, c.finding)]
    return tuple(Effect(c.how, c.finding.title, c.finding.moment, c.before, c.finding.size, c.finding.limit, c.finding.unit) for c in told)


def _was_there(before: Swept, after: Swept, finding: BoardFinding) -> bool:
    """Was a finding that is new to the report as large before, and left out because a pair had it, too?"""
    if len(finding.ends) < 3:
        return False
    was = before.there_before(after.cell_of(finding)).get(fault_of(finding))
    return was is not None and finding.size <= was.size + LEAST * finding.limit
