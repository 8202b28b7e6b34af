"""A sweep as plain data: what the board shows, the command line prints and a report says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, Unpack

from pydantic import TypeAdapter

from tightseam.controls.regions import ControlRegion, control_regions
from tightseam.document.arrays import ArrayStore
from tightseam.document.basics import Point
from tightseam.document.kept import kept_key
from tightseam.document.mix_model import Way
from tightseam.document.model import Character
from tightseam.document.poses import away_from_rest
from tightseam.document.progress import one_by_one, part_of_it
from tightseam.document.sections import MEASURED
from tightseam.geometry.types import Floats
from tightseam.mix.causes import CauseFinder, LinkCause
from tightseam.mix.cell import Cell
from tightseam.mix.finding import Fault, MixFinding
from tightseam.mix.groups import Group, grouped
from tightseam.mix.rules import Apart, Base
from tightseam.mix.sweep import How, Sweep, sweep
from tightseam.mix.sweeper import Sweeper
from tightseam.mix.words import said, said_cell, text, title


@dataclass(frozen=True)
class BoardEnd:
    """A row and a column of the board. `base` says on what it is swept, not being used or having nothing to do alone; `image` is the end
    that is its mirror image; `asleep` where it does nothing on anything, so that nothing of it was measured."""

    name: str
    label: str
    control: str
    value: float
    rest: float
    region: ControlRegion
    way: Way
    base: str | None = None
    image: str | None = None
    asleep: bool = False


@dataclass(frozen=True)
class BoardFinding(Fault):
    """A finding, with the ends it is about (without those that only wake another), their strengths, and the `values` of controls away from
    rest that bring it about, and where its worst vertex is in the neutral, cm. `intended` is
    the number of what says that it is meant."""

    ends: tuple[str, ...]
    strengths: tuple[float, ...]
    title: str
    text: str
    moment: str
    values: Mapping[str, float]
    place_at_rest: Point
    intended: int | None = None


@dataclass(frozen=True)
class BoardCause:
    """Findings of one fault, by their numbers, the worst of them first; which end is in all of them, and which links bring the worst
    about. Those that are `intended` are causes of their own."""

    end: str
    others: tuple[str, ...]
    findings: tuple[int, ...]
    sides: tuple[str, ...]
    links: tuple[LinkCause, ...]
    intended: int | None = None


@dataclass(frozen=True)
class MixReport:
    """A sweep told: how many cells of which kind were measured, all findings, worst first, and the few causes they have, those that are
    intended last. What is over `at_rest` already is told once, and of expressions only what they make worse. `bases`
    are what those ends were swept on that are not used, or do nothing, by themselves, by their names."""

    ends: tuple[BoardEnd, ...]
    alone: int
    pairs: int
    triples: int
    findings: tuple[BoardFinding, ...]
    causes: tuple[BoardCause, ...]
    apart: tuple[Apart, ...]
    not_measured: tuple[str, ...]
    at_rest: tuple[str, ...]
    bases: Mapping[str, Base]

    @property
    def counting(self) -> list[BoardFinding]:
        """The findings that nobody means."""
        return [f for f in self.findings if f.intended is None]

    @property
    def open_causes(self) -> list[BoardCause]:
        """The causes of those."""
        return [c for c in self.causes if c.intended is None]

    @property
    def state(self) -> Literal["over", "within", "not measured"]:
        """Over wins: what could be measured was not all, but that much is known. Of what does nothing on anything nothing was measured."""
        if self.counting or self.at_rest:
            return "over"
        whole = self.pairs and not self.not_measured and not any(e.asleep for e in self.ends)
        return "within" if whole else "not measured"


REPORT = TypeAdapter(MixReport)
SWEPT = (*MEASURED, "mix")  # sections that a sweep hangs on


def mix_key(character: Character, own: bool | None = None) -> str:
    """The key under which the report of a character is kept: all it hangs on."""
    return kept_key("mix", character, SWEPT, own)


def causes_key(character: Character) -> str:
    """The key under which it is kept how many causes a sweep found, with what is wrong at rest: a rail asks for no more."""
    return kept_key("mix causes", character, (*SWEPT, "intended"))


def mix_report(character: Character, store: ArrayStore, **how: Unpack[How]) -> MixReport:
    """A character swept, and the causes of what is wrong."""
    with part_of_it(0.0, 0.95):
        swept = sweep(character, store, **how)
    with part_of_it(0.95, 1.0):
        return _Teller(character, store, swept, how.get("own")).report()


def _point(place: Floats) -> Point:
    x, y, z = place.tolist()
    return x, y, z


class _Teller:
    def __init__(self, character: Character, store: ArrayStore, swept: Sweep, own: bool | None) -> None:
        self._character, self._store, self._swept = character, store, swept
        self._ends = {e.name: e for e in swept.ends}
        self._sweeper = Sweeper(character, store, own)
        self._sweeper.taught({}, swept.bases)

    def report(self) -> MixReport:
        findings = self._swept.findings
        numbers = {id(f): k for k, f in enumerate(findings)}
        groups = grouped(findings, self._swept.images, self._sweeper.meter.place_at_rest)
        finder = CauseFinder(self._character, self._store, self._sweeper)
        causes = tuple(self._cause(g, finder, numbers) for g in one_by_one(groups, "Cause"))
        counts = [0, 0, 0]
        for result in self._swept.cells:
            counts[min(len(self._sweeper.meant(result.cell)), 3) - 1] += 1
        ends, told = self._board_ends(), tuple(map(self._finding, findings))
        alone, pairs, triples = counts
        at_rest = tuple(said(f, self._character) for f in self._sweeper.meter.at_rest)
        swept = self._swept
        return MixReport(ends, alone, pairs, triples, told, causes, swept.apart, swept.not_measured, at_rest, dict(swept.bases))

    def _board_ends(self) -> tuple[BoardEnd, ...]:
        regions = control_regions(self._character, self._store)
        bases, swept = self._swept.bases, self._swept
        return tuple(
            BoardEnd(
                e.name, e.label, e.control, e.value, e.rest, regions.get(e.control, "other"), e.way,
                base=said_cell(Cell(bases[e.name]), self._ends) if e.name in bases else None,
                image=swept.images.get(e.name), asleep=e.name in swept.asleep,
            )
            for e in swept.ends
        )  # fmt: skip

    def _finding(self, f: MixFinding) -> BoardFinding:
        meant = self._sweeper.meant(f.cell)
        values = away_from_rest(self._character, f.cell.values(self._character, self._ends))
        return BoardFinding(
            **f.as_fault(),
            ends=tuple(d.end for d in meant),
            strengths=tuple(d.strength for d in meant),
            title=title(f, self._character),
            text=text(f),
            moment=f"in {said_cell(f.cell, self._ends)}",
            values=values,
            place_at_rest=_point(self._sweeper.meter.place_at_rest(f)),
        )

    def _cause(self, group: Group, finder: CauseFinder, numbers: Mapping[int, int]) -> BoardCause:
        found = sorted(group.findings, key=lambda f: -f.excess)
        return BoardCause(group.end, group.others, tuple(numbers[id(f)] for f in found), group.sides, tuple(finder.of(group.worst)))
