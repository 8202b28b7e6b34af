"""Proposals measured: what becomes of the cause, of the whole sweep, and of the test poses."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Any

from pydantic import TypeAdapter

from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.document.progress import one_by_one, part_of_it
from tightseam.findings.finding import Unit
from tightseam.mending.proposals import Kind, Proposal, proposals
from tightseam.mending.touched import Touched
from tightseam.mix.cell import Cell
from tightseam.mix.compare import LEAST as TOLD
from tightseam.mix.compare import ORDER, How, changed, worst_by
from tightseam.mix.finding import MixFinding
from tightseam.mix.plan import planned
from tightseam.mix.report import BoardCause, MixReport
from tightseam.mix.sweeper import CellResult, Sweeper
from tightseam.mix.words import said_cell, title
from tightseam.seams.effects import SideEffects, side_effects
from tightseam.tryout.tried import HARM, strip_readings

MOST_SCREENED = 6  # cells of a cause in which a proposal has to do something to be looked at more closely
LEAST = 0.5  # of the cells of a cause that a way may leave and still be one
MOST_HARMS = 8  # things that get worse from which a proposal is none
MOST_MEASURED = 5  # proposals, the most promising, that are measured over everything

WORSE = ("new", "worse")

Cells = Mapping[Cell, CellResult]


@dataclass(frozen=True)
class Effect:
    """A finding of the sweep that an edit changes: its size before and after, None where it is not over its limit."""

    how: How
    title: str
    moment: str
    before: float | None
    after: float | None
    limit: float
    unit: Unit


@dataclass(frozen=True)
class Mending:
    """A proposal that was measured. The cause had faults in `found` cells, and has some `left`; `effects` are what changes in the sweep,
    the cause first, `strip` what changes in the test poses, and `harms` counts what gets worse or is new in either; it is
    `clean` where the cause is gone and nothing is harmed. `measured` cells are those that it changes at all."""

    kind: Kind
    text: str
    edit: str
    params: dict[str, Any]
    found: int
    left: int
    measured: int
    effects: tuple[Effect, ...]
    strip: SideEffects
    harms: int
    clean: bool


MENDINGS = TypeAdapter(list[Mending])


def mendings(character: Character, store: ArrayStore, report: MixReport, cause: BoardCause, cells: Cells) -> list[Mending]:
    """What does something against a cause: of each family of proposals the least that mends it and harms nothing, or the best of it. The
    first is the one to choose: with the fewest cells left and side effects; a corrective last among equals. What does more harm than
    good is none. `cells` are the results of the sweep that the report tells of."""
    mender = _Mender(character, store, report, cause, cells)
    families = [list(own) for _, own in groupby(proposals(character, store, report, cause), key=lambda p: p.family)]
    with part_of_it(0.0, 0.5):
        made = [best for family in one_by_one(families, "Trying way") if (best := mender.best(family)) is not None]
    chosen = sorted(made, key=lambda m: m.left)[:MOST_MEASURED]  # stable: the order of kinds
    with part_of_it(0.5, 1.0):
        found = [mender.measured(m) for m in one_by_one(chosen, "Measuring everything for way")]
    worth = [m for m in found if m is not None and m.left <= LEAST * m.found and _does_good(m)]
    return sorted(worth, key=lambda m: (m.left + m.harms, m.kind == "corrective"))


def _does_good(mending: Mending) -> bool:
    return len(mending.effects) > 2 * sum(e.how in WORSE for e in mending.effects)


@dataclass(frozen=True)
class Made:
    """A proposal made, in a store of its own, with what measures it, and in how many of the worst cells of the cause it leaves it."""

    proposal: Proposal
    changed: Character
    scratch: ArrayStore
    sweeper: Sweeper
    left: int


class _Mender:
    def __init__(self, character: Character, store: ArrayStore, report: MixReport, cause: BoardCause, cells: Cells) -> None:
        self._character, self._store, self._cells = character, store, cells
        self._sweeper = Sweeper(character, store)
        self._bases = planned(self._sweeper).bases
        of_cause = [report.findings[k] for k in cause.findings]
        self._own = {(f.moment, f.kind, f.about, f.place) for f in of_cause}
        own = {c: max(f.excess for f in r.findings if self._is_own(f)) for c, r in cells.items() if any(map(self._is_own, r.findings))}
        self._own_cells = sorted(own, key=lambda c: -own[c])
        self._worst_cells = self._own_cells[:MOST_SCREENED]
        self._was = strip_readings(character, store)

    def best(self, family: Sequence[Proposal]) -> Made | None:
        """The first of a family that leaves nothing of the cause in its worst cells, or the one that leaves least; None where none does
        anything there."""
        best: Made | None = None
        for made in filter(None, map(self._made, family)):
            if best is None or made.left < best.left:
                best = made
            if not best.left:
                break
        return None if best is None or best.left == len(self._worst_cells) else best

    def _made(self, proposal: Proposal) -> Made | None:
        """A proposal with what it leaves of the cause; None where it cannot be made."""
        scratch = MemoryStore(self._store)
        try:
            changed = proposal.step.params.apply(self._character, scratch)
        except BadRequest:
            return None
        sweeper = Sweeper(changed, scratch)
        sweeper.taught({}, self._bases)
        left = sum(any(map(self._is_own, self._measure(sweeper, cell, {}).findings)) for cell in self._worst_cells)
        return Made(proposal, changed, scratch, sweeper, left)

    def measured(self, made: Made) -> Mending | None:
        """Everything measured that a proposal can change; None where it does too much harm."""
        proposal, changed, scratch = made.proposal, made.changed, made.scratch
        touched = Touched(self._character, self._store, changed, scratch)
        now: dict[Cell, CellResult] = {}
        found: list[Effect] = []
        for cell in self._cells:  # smaller ones first
            if touched.by(cell.values(self._character, self._sweeper.ends)):
                now[cell] = self._measure(made.sweeper, cell, now)
                found += self._effects(self._cells[cell], now[cell])
                if sum(e.how in WORSE for e in found) > MOST_HARMS:
                    return None
        effects = sorted(found, key=lambda e: ORDER.index(e.how))
        strip = side_effects(changed, self._was, strip_readings(changed, scratch))
        harms = sum(e.how in WORSE for e in effects) + sum(c.grown > HARM for c in strip.worse)
        step = proposal.step.model_dump(mode="json")
        left = sum(any(map(self._is_own, now.get(cell, self._cells[cell]).findings)) for cell in self._own_cells)
        what = proposal.kind, proposal.text, step["edit"], step["params"]
        return Mending(*what, len(self._own_cells), left, len(now), tuple(effects), strip, harms, not left and not harms)

    def _measure(self, sweeper: Sweeper, cell: Cell, now: Cells) -> CellResult:
        """A cell; one of three with its pairs, as they are `now` or were before."""
        within: list[CellResult] = []
        if len(sweeper.meant(cell)) > 2:
            within = [now.get(c, r) for c, r in self._cells.items() if len(c.ends) < len(cell.ends) and set(c.ends) <= set(cell.ends)]
        return sweeper.measure(cell, None, within)

    def _effects(self, before: CellResult, after: CellResult) -> Iterator[Effect]:
        """What changes in a cell."""
        for how, was, now in changed(_by_place(before), _by_place(after), _least):
            told = now or was
            assert told is not None
            sizes = was.size if was else None, now.size if now else None
            yield Effect(how, title(told, self._character), self._moment(told), *sizes, told.limit, told.unit)

    def _moment(self, finding: MixFinding) -> str:
        return f"in {said_cell(finding.cell, self._sweeper.ends)}"

    def _is_own(self, finding: MixFinding) -> bool:
        """Is a finding of the cause, or of its kind at its place in one of its cells?"""
        return (self._moment(finding), finding.kind, finding.about, finding.place) in self._own


def _by_place(result: CellResult) -> dict[tuple[str, str, str], MixFinding]:
    return worst_by(result.findings, lambda f: (f.kind, f.about, f.place))


def _least(finding: MixFinding) -> float:
    """By how much a finding has to change to be told; of millimetres no more than is harm."""
    return min(TOLD * finding.limit, HARM) if finding.unit == "mm" else TOLD * finding.limit
