"""The frames of a take, each measured as a mix of what is dialled in there."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import ceil

from pydantic import TypeAdapter

from tightseam.document.arrays import ArrayStore
from tightseam.document.kept import kept_key
from tightseam.document.model import Character
from tightseam.document.poses import away_from_rest
from tightseam.document.progress import one_by_one
from tightseam.mix.cell import Cell, Dialled
from tightseam.mix.finding import Fault, MixFinding
from tightseam.mix.report import SWEPT
from tightseam.mix.sweeper import Sweeper
from tightseam.mix.words import said, text, title
from tightseam.takes.follow import Followed

LEAST = 0.01  # of the way of a control from which it is dialled in
STEP = 0.05  # of the way: what a control does by itself is measured at the next of these
BRIDGED = 3  # frames without a fault up to which it is one fault before and after them


@dataclass(frozen=True)
class TakeFault(Fault):
    """A fault of a take, from the `first` to the `last` frame in which it is there, as it is in the worst, at `frame`; frames count from
    0. `values` are those of controls away from rest then."""

    first: int
    last: int
    frame: int
    title: str
    text: str
    values: Mapping[str, float]


@dataclass(frozen=True)
class TakeReport:
    """All faults of a take of so many `frames`, worst first. What is over `at_rest` already is told once."""

    frames: int
    faults: tuple[TakeFault, ...]
    not_measured: tuple[str, ...]
    at_rest: tuple[str, ...]


TAKE_REPORT = TypeAdapter(TakeReport)


def take_key(character: Character, take: Followed) -> str:
    """The key under which the report of a take is kept."""
    return kept_key("take", character, SWEPT, take.controls, take.rate, take.frames.tolist())


def take_report(character: Character, store: ArrayStore, take: Followed) -> TakeReport:
    """Every frame measured, beyond what its controls do by themselves."""
    sweeper = Sweeper(character, store)
    found: list[list[MixFinding]] = []
    known: dict[Cell, list[MixFinding]] = {}
    cells = [_cell(sweeper, dict(zip(take.controls, row, strict=True))) for row in take.frames.tolist()]
    for cell in one_by_one(cells, "Frame"):
        if cell not in known:
            known = {cell: _measured(sweeper, cell)}  # frames that follow one another are often alike
        found.append(known[cell])
    meter = sweeper.meter
    faults = sorted((_fault(run, character, sweeper) for run in _runs(found)), key=lambda f: (-f.excess, f.first))
    at_rest = tuple(said(f, character) for f in meter.at_rest)
    return TakeReport(len(cells), tuple(faults), tuple(meter.not_measured), at_rest)


def _cell(sweeper: Sweeper, values: Mapping[str, float]) -> Cell:
    dialled = []
    for end in sweeper.ends.values():
        strength = (values.get(end.control, end.rest) - end.rest) / (end.value - end.rest)
        if strength >= LEAST:
            dialled.append(Dialled(end.name, strength))
    return Cell(tuple(dialled))


def _measured(sweeper: Sweeper, cell: Cell) -> list[MixFinding]:
    each = (sweeper.cell(Dialled(d.end, min(1.0, ceil(d.strength / STEP) * STEP))) for d in cell.dialled)
    alone = [sweeper.known(single) for single in each if single is not None] if len(cell.dialled) > 1 else []
    return sweeper.meter.with_alone(sweeper.meter.judged(sweeper.meter.pose(cell), alone).findings, alone)


Run = list[tuple[int, MixFinding]]


def _runs(found: Sequence[Sequence[MixFinding]]) -> Iterator[Run]:
    """Faults of one kind at one place in frames that follow one another."""
    going: dict[tuple[str, str, str, float], Run] = {}
    for frame, findings in enumerate(found):
        for f in findings:
            key = (f.kind, f.about, f.place, f.limit)
            if key in going and frame - going[key][-1][0] > BRIDGED:
                yield going.pop(key)
            going.setdefault(key, []).append((frame, f))
    yield from going.values()


def _fault(run: Run, character: Character, sweeper: Sweeper) -> TakeFault:
    frame, worst = max(run, key=lambda item: item[1].size)
    values = away_from_rest(character, worst.cell.values(character, sweeper.ends))
    return TakeFault(
        **worst.as_fault(),
        first=run[0][0],
        last=run[-1][0],
        frame=frame,
        title=title(worst, character),
        text=text(worst, by_itself=True),
        values=values,
    )
