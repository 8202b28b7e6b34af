"""Proposals made and measured: what becomes of a cause, of the whole sweep, and of the test poses."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache

from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.mending.mending import LEAST, WORSE, Effect, Mending
from tightseam.mending.proposal import Proposal
from tightseam.mending.swept import Fault, Swept, fault_of
from tightseam.mending.touched import Touched
from tightseam.mix.cell import Cell
from tightseam.mix.compare import LEAST as TOLD
from tightseam.mix.compare import ORDER, changed, worst_by
from tightseam.mix.finding import MixFinding
from tightseam.mix.report import BoardCause
from tightseam.mix.rules import Base, needed_bases
from tightseam.mix.sweeper import CellResult, Sweeper
from tightseam.mix.words import title
from tightseam.seams.effects import side_effects
from tightseam.tryout.tried import HARM, strip_readings

MOST_SCREENED = 6  # cells of a cause in which a proposal has to do something to be looked at more closely
BETTER = 0.05  # of a cause that one which does more has to leave less
MOST_HARMS = 8  # things that get worse from which a proposal is none

Cells = Mapping[Cell, CellResult]


@dataclass(frozen=True)
class Made:
    """A proposal made, in a store of its own, with what measures it; which cells it `touches`; and how far the worst cells of the cause
    are over limits by it, as a share of how far they were."""

    proposal: Proposal
    changed: Character
    scratch: ArrayStore
    sweeper: Sweeper
    touches: Callable[[Cell], bool]
    over: float


@dataclass(frozen=True)
class Measured:
    """A proposal measured over everything, and the results of those cells that it changes, by what they were."""

    made: Made
    mending: Mending
    cells: Cells


class Mender:
    """Measures what proposals do to one cause of a sweep."""

    def __init__(self, swept: Swept, cause: BoardCause) -> None:
        self._swept = swept
        self._own: dict[Cell, set[Fault]] = {}
        for f in (swept.report.findings[k] for k in cause.findings):
            self._own.setdefault(swept.cell_of(f), set()).add(fault_of(f))
        self._worst = sorted(self._own, key=lambda c: -self._over(c, swept.cells[c]))[:MOST_SCREENED]
        self._was = sum(self._over(c, swept.cells[c]) for c in self._worst)

    def best(self, family: Sequence[Proposal]) -> Made | None:
        """The first of a family that leaves nothing of the cause in its worst cells, or the first than which none leaves much less; None
        where that is more than half of it."""
        best: Made | None = None
        for proposal in family:
            made = self._made(proposal, LEAST if best is None else best.over - BETTER)
            if made is not None:
                best = made
                if not best.over:
                    break
        return best

    def _made(self, proposal: Proposal, most: float) -> Made | None:
        """A proposal with what it leaves of the cause; None where it cannot be made, or leaves more than the `most`."""
        swept, scratch = self._swept, MemoryStore(self._swept.store)
        try:
            changed = proposal.step.params.apply(swept.character, scratch)
        except BadRequest:
            return None
        touched = Touched(swept.character, swept.store, changed, scratch)
        sweeper = Sweeper(changed, scratch, meter=swept.sweeper.meter if touched.leaves_rest else None)
        sweeper.taught({}, _bases(swept, changed, sweeper))
        touches = cache(lambda cell: self._is_touched(touched, sweeper, cell))
        if touched.moves_only:
            sweeper.like(swept.sweeper, lambda cell: not touches(cell))
        over = 0.0
        for cell in self._worst:
            over += self._over(cell, self._measure(sweeper, cell, {})) / self._was
            if over > most:
                return None
        return Made(proposal, changed, scratch, sweeper, touches, over)

    def measured(self, made: Made, most_harms: int = MOST_HARMS) -> Measured | None:
        """Everything measured that a proposal can change; None where that is more harm than the most that it may do."""
        swept, proposal = self._swept, made.proposal
        now: dict[Cell, CellResult] = {}
        found: list[Effect] = []
        for cell, before in swept.cells.items():  # smaller ones first
            there = made.sweeper.cell(*cell.dialled)
            if there == cell and not made.touches(cell):
                continue
            now[cell] = self._measure(made.sweeper, cell, now)
            found += self._effects(cell, before, now[cell])
            if sum(e.how in WORSE for e in found) > most_harms:
                return None
        effects = sorted(found, key=lambda e: ORDER.index(e.how))
        strip = side_effects(made.changed, swept.strip, strip_readings(made.changed, made.scratch))
        harms = sum(e.how in WORSE for e in effects) + sum(c.grown > HARM for c in strip.worse)
        step = proposal.step.model_dump(mode="json")
        left = sum(self._over(cell, now.get(cell, swept.cells[cell])) > 0 for cell in self._own)
        what = proposal.kind, proposal.text, step["edit"], step["params"]
        mending = Mending(*what, len(self._own), left, len(now), tuple(effects), strip, harms, not left and not harms)
        return Measured(made, mending, now)

    def _is_touched(self, touched: Touched, sweeper: Sweeper, cell: Cell) -> bool:
        before = cell.values(self._swept.character, self._swept.sweeper.ends)
        return touched.by(before, cell.values(sweeper.meter.character, sweeper.ends))

    def _measure(self, sweeper: Sweeper, cell: Cell, now: Cells) -> CellResult:
        """What has become of a cell, on what its ends need by then; one of three with its pairs, as they are `now` or were before."""
        there = sweeper.cell(*cell.dialled)
        if there is None:  # nobody dials that in any more
            return CellResult(cell, "", ())
        within = self._swept.within(cell) if len(sweeper.meant(there)) > 2 else ()
        return sweeper.measure(there, None, [now.get(c, self._swept.cells[c]) for c in within])

    def _effects(self, cell: Cell, before: CellResult, after: CellResult) -> Iterator[Effect]:
        """What changes in a cell."""
        for how, was, now in changed(worst_by(before.findings, fault_of), worst_by(after.findings, fault_of), _least):
            told = now or was
            assert told is not None
            if how == "new" and len(self._swept.sweeper.meant(cell)) > 2:
                was = self._swept.there_before(cell).get(fault_of(told))
                if was is not None and told.size <= was.size + _least(told):
                    continue
            sizes = was.size if was else None, now.size if now else None
            yield Effect(how, title(told, self._swept.character), self._swept.moment(cell), *sizes, told.limit, told.unit)

    def _over(self, cell: Cell, result: CellResult) -> float:
        """How far the worst of the cause in a cell is over its limit, in limits: what is of its kind and at its place there; 0 where
        there is none."""
        return max((f.excess for f in result.findings if fault_of(f) in self._own[cell]), default=0.0)


def _bases(swept: Swept, changed: Character, sweeper: Sweeper) -> dict[str, Base]:
    """What ends are swept on: as before, and as the changed character has decided since."""
    decided = needed_bases(swept.character.mix, swept.sweeper.ends.values())
    found = {name: base for name, base in swept.report.bases.items() if name not in decided}
    return {name: base for name, base in {**found, **sweeper.bases}.items() if name in sweeper.ends}


def _least(finding: MixFinding) -> float:
    """By how much a finding has to change to be told; of millimetres no more than is harm."""
    return min(TOLD * finding.limit, HARM) if finding.unit == "mm" else TOLD * finding.limit
