"""The sweep: every end alone, every pair, and those triples of which a pair comes near to a limit."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass, field
from typing import TypedDict, Unpack

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.document.progress import part_of_it, tell
from tightseam.mix.cell import Cell
from tightseam.mix.cluster import Cluster
from tightseam.mix.ends import End
from tightseam.mix.executors import Executor, InProcess, Lesson, Measured, Processes, chunked, packed
from tightseam.mix.finding import MixFinding
from tightseam.mix.plan import Plan, planned
from tightseam.mix.rules import Apart, Base
from tightseam.mix.sweeper import CellResult, Sweeper
from tightseam.mix.triples import triples

Keep = Callable[[Sequence[CellResult]], None]


@dataclass(frozen=True)
class Sweep:
    """What came of a sweep: its cells in order, ends alone first; which ends were swept on which `bases`, which did nothing on any
    (`asleep`), which pairs were kept `apart`, which ends are mirror `images` of which, and what could not be measured."""

    ends: tuple[End, ...]
    cells: tuple[CellResult, ...]
    bases: Mapping[str, Base] = field(default_factory=dict)
    asleep: tuple[str, ...] = ()
    apart: tuple[Apart, ...] = ()
    images: Mapping[str, str] = field(default_factory=dict)
    not_measured: tuple[str, ...] = ()

    @property
    def findings(self) -> list[MixFinding]:
        """All of them, the worst against its limit first."""
        return sorted((f for cell in self.cells for f in cell.findings), key=lambda f: -f.excess)


class How(TypedDict, total=False):
    """How a character is swept: in so many `processes`, or on the `cluster` whose scheduler has this address; with bones' `own` channels or
    not. Cells that are `before` as they would be measured now are not measured again; `keep` is told of results as they come."""

    processes: int
    cluster: str | None
    own: bool | None
    before: Mapping[Cell, CellResult]
    keep: Keep


def sweep(character: Character, store: ArrayStore, **how: Unpack[How]) -> Sweep:
    """Sweep a character, by default in this process alone. Progress is told, and may be cancelled."""
    processes, cluster, own = how.get("processes", 1), how.get("cluster"), how.get("own")
    sweeper, kept = Sweeper(character, store, own), (how.get("before", {}), how.get("keep"))
    if cluster is None and processes == 1:
        return _Run(sweeper, InProcess(sweeper), *kept).all()
    with closing(Processes(processes, sweeper) if cluster is None else Cluster(cluster, packed(character, store, own))) as several:
        return _Run(sweeper, several, *kept).all()


class _Run:
    def __init__(self, sweeper: Sweeper, executor: Executor, before: Mapping[Cell, CellResult], keep: Keep | None) -> None:
        self._sweeper, self._executor, self._before, self._keep = sweeper, executor, before, keep
        self._lesson = Lesson({}, {})

    def all(self) -> Sweep:
        with part_of_it(0.0, 0.05):
            plan = planned(self._sweeper)
        self._lesson = Lesson({}, plan.bases)
        with part_of_it(0.05, 0.2):
            alone = self._measured(plan.alone, "expression")
        sizes = {m.result.cell: m.sizes for m in alone if m.sizes is not None}
        self._lesson = Lesson(sizes, plan.bases)
        self._sweeper.taught(sizes, plan.bases)
        with part_of_it(0.2, 0.7):
            pairs = self._measured(plan.pairs, "pair")
        with part_of_it(0.7, 1.0):
            known = [m.result for m in (*alone, *pairs)]
            threes = self._measured(triples(self._sweeper, [m.result for m in pairs]), "triple", known)
        return self._told(plan, [*known, *(m.result for m in threes)])

    def _measured(self, cells: Sequence[Cell], noun: str, pairs: Sequence[CellResult] = ()) -> list[Measured]:
        found: list[Measured] = []
        tell(0.0, f"{noun.capitalize()} 0 of {len(cells):,}")
        for chunk in self._executor.run(chunked(cells, self._before, pairs), self._lesson):
            found += chunk
            if self._keep is not None:
                self._keep([m.result for m in chunk])
            tell(len(found) / len(cells), f"{noun.capitalize()} {len(found):,} of {len(cells):,}")
        return found

    def _told(self, plan: Plan, cells: Sequence[CellResult]) -> Sweep:
        ends = tuple(self._sweeper.ends.values())
        missing = tuple(self._sweeper.meter.not_measured)
        return Sweep(ends, tuple(cells), plan.bases, plan.asleep, plan.apart, plan.images, missing)
