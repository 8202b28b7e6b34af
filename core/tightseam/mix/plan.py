"""Which cells a sweep has, before anything is measured."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from tightseam.document.progress import one_by_one, part_of_it
from tightseam.mix.cell import BETWEEN, REST, STRENGTHS, Cell, Dialled
from tightseam.mix.meter import Known
from tightseam.mix.rules import STIRS, Apart, Base, idle, kept_apart, mirror_images
from tightseam.mix.sweeper import Sweeper


@dataclass(frozen=True)
class Plan:
    """The cells of ends alone, at all strengths, and of pairs; which ends are swept on which `bases`, not being used or
    having nothing to do alone, and which do nothing on any; which pairs are kept `apart`, and which ends are mirror `images` of which."""

    alone: tuple[Cell, ...]
    pairs: tuple[Cell, ...]
    bases: Mapping[str, Base]
    asleep: tuple[str, ...]
    apart: tuple[Apart, ...]
    images: Mapping[str, str]


def planned(sweeper: Sweeper) -> Plan:
    """The plan of a sweeper's sweep, which learns from it what wakes what."""
    return _Planner(sweeper).plan()


class _Planner:
    def __init__(self, sweeper: Sweeper) -> None:
        self._sweeper, self._meter = sweeper, sweeper.meter
        self._rest = self._meter.pose(REST)
        self._posed: dict[str, Known] = {}
        with part_of_it(0.0, 0.6):
            for name in one_by_one(list(sweeper.ends), "Posing expression"):
                cell = self._sweeper.cell(Dialled(name))
                if cell is not None:  # else its base cannot be dialled in with it
                    self._posed[name] = self._meter.pose(cell)

    def plan(self) -> Plan:
        ends = tuple(self._sweeper.ends.values())
        needed = dict(self._sweeper.bases)
        offsets = {name: known.points - self._base(name).points for name, known in self._posed.items()}
        found: dict[str, Base] = {}
        asleep = [e.name for e in ends if e.name not in self._posed]
        nothing = idle([e for e in ends if e.name in self._posed], offsets)
        awake = {e.name: self._posed[e.name] for e in ends if e.name in self._posed and e not in nothing and e.name not in needed}
        with part_of_it(0.6, 0.9):
            for end in one_by_one(nothing, "Waking expression"):
                waker = None if end.name in needed else self._waker(end.name, awake)
                if waker is None:
                    asleep.append(end.name)
                    continue
                found[end.name] = (Dialled(waker),)
                offsets[end.name] = self._posed[end.name].points - self._posed[waker].points
        self._sweeper.bases = bases = needed | found
        swept = [e for e in ends if e.name not in asleep]
        apart = tuple(kept_apart(swept, offsets, self._meter.character.mix))
        pairs = tuple(dict.fromkeys(self._pairs([e.name for e in swept], {frozenset(a.ends) for a in apart})))
        singles = [self._sweeper.cell(Dialled(e.name, s)) for e in swept for s in STRENGTHS]
        images = mirror_images({e.name: offsets[e.name] for e in swept}, self._rest.points)
        return Plan(tuple(c for c in singles if c is not None), pairs, bases, tuple(asleep), apart, images)

    def _base(self, name: str) -> Known:
        """What an end's own doing is held against."""
        base = self._sweeper.cell(*self._sweeper.bases.get(name, ()))
        assert base is not None  # or the end could not be dialled in on it
        return self._meter.pose(base) if base.dialled else self._rest

    def _waker(self, name: str, awake: Mapping[str, Known]) -> str | None:
        """The end with which one that does nothing alone does most; None where it does nothing with any."""
        control, best, farthest = self._sweeper.ends[name].control, None, STIRS
        for other, known in awake.items():
            cell = self._sweeper.cell(Dialled(other), Dialled(name))
            if cell is None or self._sweeper.ends[other].control == control:
                continue
            both = self._meter.pose(cell)
            stirs = float(np.abs(both.points - known.points).max())
            if stirs > farthest:
                best, farthest, self._posed[name] = other, stirs, both
        return best

    def _pairs(self, names: list[str], apart: set[frozenset[str]]) -> Iterator[Cell]:
        singles = {self._sweeper.cell(Dialled(name)) for name in names}
        held = {name: self._held(name) for name in names}
        for a, b in combinations(names, 2):
            cell = self._sweeper.cell(Dialled(a), Dialled(b))
            if cell is None or cell in singles or frozenset((a, b)) in apart:
                continue
            yield cell
            if held[a] & held[b] and not {a, b} & self._sweeper.bases.keys():
                for one, other in BETWEEN:
                    between = self._sweeper.cell(Dialled(a, one), Dialled(b, other))
                    if between is not None:
                        yield between

    def _held(self, name: str) -> set[str]:
        """The lids that an end touches, and the jaw."""
        known = self._posed[name]
        touched = self._meter.touched_by(known, self._rest)
        lids = {
            m.seam.name for m, yes in zip(self._meter.measures, touched, strict=True) if yes and m.seam.margin and m.seam.region == "eyes"
        }
        return lids | ({"jaw"} if self._meter.turns_jaw(known, self._rest) else set())
