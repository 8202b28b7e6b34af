"""Measures the cells of one sweep, in any order: what one process of it knows."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from hashlib import blake2b
from itertools import combinations, permutations

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.kept import VERSION
from tightseam.document.model import Character
from tightseam.document.sections import keys_of
from tightseam.mix.cell import STRENGTHS, Cell, Dialled
from tightseam.mix.ends import ends
from tightseam.mix.finding import MixFinding
from tightseam.mix.groups import one_fault
from tightseam.mix.measures import Sizes
from tightseam.mix.meter import DIGEST, Known, Mixed, MixMeter
from tightseam.mix.rules import Base, needed_bases

DEFINES = ("parts", "landmarks", "bones", "seams")  # sections that say what is measured, and against which limits
KEPT = 60  # cells of several ends that are remembered with all their points


@dataclass(frozen=True)
class CellResult:
    """What a sweep keeps of a cell: what it was measured from (a hash of all that is posed), its findings, and where it comes near to a
    limit: vertices of the skin, and numbers of measures."""

    cell: Cell
    digest: str
    findings: tuple[MixFinding, ...]
    near_vertices: tuple[int, ...] = ()
    near_measures: tuple[int, ...] = ()


class Sweeper:
    """Measures cells of one character. What is known of ends alone, which all else is held against, is made once and kept; `bases`
    says on what those ends are swept that are not used, or do nothing, by themselves. With `wholly` nothing is reused; with the `meter` of
    a character that is the same but for controls and shapes, and at rest, none is built anew."""

    def __init__(
        self, character: Character, store: ArrayStore, own: bool | None = None, wholly: bool = False, meter: MixMeter | None = None
    ) -> None:
        self.ends = {e.name: e for e in ends(character, own)}
        self.meter = MixMeter(character, store, self.ends) if meter is None else meter.of(character, store, self.ends)
        self.bases = needed_bases(character.mix, self.ends.values())
        self._order = {name: k for k, name in enumerate(self.ends)}
        self._wholly = wholly
        self._sizes: dict[Cell, Sizes] = {}
        self._ends: dict[Cell, Known] = {}
        self._known: OrderedDict[Cell, Known] = OrderedDict()
        self._mixes: dict[Cell, tuple[Sizes, bool]] = {}  # of all cells of several ends, with whether they are rough
        self._digests: dict[Cell, bytes] = {}
        self._like: tuple[Sweeper, Callable[[Cell], bool]] | None = None
        limits = keys_of(character, DEFINES)
        self._definitions = _hashed(repr((VERSION, limits)).encode())

    def taught(self, sizes: Mapping[Cell, Sizes], bases: Mapping[str, Base]) -> None:
        """Take over what has been measured of ends alone elsewhere."""
        self._sizes.update(sizes)
        self.bases = dict(bases)

    def like(self, other: Sweeper, same: Callable[[Cell], bool]) -> None:
        """Ask the sweeper of another character, whose parts, landmarks, bones and seams are the same, of cells that are the `same` in
        both: what others are held against need not be measured for each of two that differ in little."""
        self._like = other, same

    def cell(self, *dialled: Dialled) -> Cell | None:
        """The cell of some ends with their bases; None where two of these are of one control."""
        wanted = {d.end: d for d in dialled}
        left = list(wanted)
        while left:
            for d in self.bases.get(left.pop(), ()):
                if d.end not in wanted:
                    wanted[d.end] = d
                    left.append(d.end)
        if len({self.ends[name].control for name in wanted}) < len(wanted):
            return None
        return Cell(tuple(sorted(wanted.values(), key=lambda d: self._order[d.end])))

    def meant(self, cell: Cell) -> tuple[Dialled, ...]:
        """What a cell is about: its ends without those that are only the base of another."""
        bases = {base for d in cell.dialled for base in self.bases.get(d.end, ())}
        return tuple(d for d in cell.dialled if d not in bases)

    def sizes_alone(self, cell: Cell) -> Sizes:
        """The measures of one end by itself."""
        if cell not in self._sizes:
            other = self._other(cell)
            self._sizes[cell] = other.sizes_alone(cell) if other else self.meter.sizes(self.meter.pose(cell))
        return self._sizes[cell]

    def measure(self, cell: Cell, was: CellResult | None = None, pairs: Sequence[CellResult] = ()) -> CellResult:
        """All of a cell; what it `was`, where nothing has moved since. A cell of three ends is told without the faults that are there
        already in one of its `pairs`."""
        known, within = self.meter.pose(cell), self._first_within(cell)
        every = len(self.meant(cell)) < 3
        faulty = [] if every else sorted(p.digest.encode() for p in pairs if p.findings)
        self._digests[cell] = known.digest
        digest = _hashed(self._definitions, known.digest, *map(self._digest, within), *faulty).hex()
        if was is not None and was.digest == digest:
            return was
        alone = self._all_known(within)
        self._read_alone(known)
        mixed = self._mixed(known, alone)
        found = mixed.findings if every else self._fresh(mixed.findings, pairs)
        if found and not every:
            alone = self._all_known(self._within(cell))
            found = self._fresh(self._mixed(known, alone).findings, pairs)
        self._keep(known)
        return CellResult(cell, digest, tuple(self.meter.with_alone(found, alone)), mixed.near_vertices, mixed.near_measures)

    def beyond_ends(self, cell: Cell) -> list[MixFinding]:
        """The findings of a cell beyond what each of its ends does by itself: those, too, that two of three have between them."""
        return self.meter.judged(self.meter.pose(cell), [self._of(d) for d in self.meant(cell)]).findings

    def _fresh(self, findings: Sequence[MixFinding], pairs: Sequence[CellResult]) -> list[MixFinding]:
        """The findings of a triple that none of its pairs has at the same place."""
        where = self.meter.place_at_rest
        known = [(f, where(f)) for pair in pairs for f in pair.findings]
        return [f for f in findings if not any(one_fault((f, where(f)), other) for other in known)]

    def _digest(self, cell: Cell) -> bytes:
        """What says whether a cell is as it was: it need not be measured for that."""
        if cell not in self._digests:
            self._digests[cell] = self.meter.pose(cell).digest
        return self._digests[cell]

    def _all_known(self, cells: Iterable[Cell]) -> list[Known]:
        return [self.known(c) for c in cells]

    def _first_within(self, cell: Cell) -> list[Cell]:
        """What a cell is held against at first: of three ends it is the first two of them and each by itself. The other pairs are asked
        for only where there is something to find."""
        meant = self.meant(cell)
        if len(meant) < 3:
            return self._within(cell)
        return [self._without(cell, meant[-1]), *map(self._cell_of, meant)]

    def _mixed(self, known: Known, alone: Sequence[Known]) -> Mixed:
        if self._wholly or len(alone) < 2:
            return self.meter.judged(known, alone)
        last = self.meant(known.cell)[-1]
        return self.meter.together(known, (self.known(self._without(known.cell, last)), self._of(last)), alone)

    def _without(self, cell: Cell, last: Dialled) -> Cell:
        """A cell without one of its ends, on the bases that the others need."""
        left = self.cell(*cell.without(last.end).dialled)
        assert left is not None
        return left

    def known(self, cell: Cell) -> Known:
        """A cell posed and measured."""
        kept = self._kept(cell)
        if cell in kept:
            return kept[cell]
        other = self._other(cell)
        if other is not None:
            return other.known(cell)
        known = self.meter.pose(cell)
        self._read_alone(known)
        if cell in self._mixes:
            known.sizes, known.rough = self._mixes[cell]
        if known.sizes is None:
            self._mixed(known, self._all_known(self._within(cell)))
        return self._keep(known)

    def _other(self, cell: Cell) -> Sweeper | None:
        """Who knows a cell as well, being asked."""
        return self._like[0] if self._like is not None and self._like[1](cell) else None

    def _kept(self, cell: Cell) -> dict[Cell, Known]:
        return self._ends if len(self.meant(cell)) == 1 else self._known

    def _keep(self, known: Known) -> Known:
        """What of a cell others are held against; of several ends only the last few."""
        kept, light = self._kept(known.cell), known.light()
        kept[known.cell] = light
        if kept is self._known and known.sizes is not None:
            self._mixes[known.cell] = known.sizes, known.rough
        while len(self._known) > KEPT:
            self._known.popitem(last=False)
        return light

    def _read_alone(self, known: Known) -> None:
        """The measures of a cell that is one end by itself, and the most of them on the way there from rest."""
        meant = self.meant(known.cell)
        if len(meant) != 1:
            return
        if known.cell not in self._sizes:
            self._sizes[known.cell] = self.meter.sizes(known)
        known.sizes = self._sizes[known.cell]
        if meant[0].strength == 1.0:
            ways = [self.sizes_alone(c) for s in STRENGTHS if (c := self.cell(Dialled(meant[0].end, s))) is not None]
            known.most = np.max([way.millimetres for way in ways], axis=0)

    def _within(self, cell: Cell) -> list[Cell]:
        """All cells that are in a cell, the larger ones first; of one end by itself what wakes it."""
        meant = self.meant(cell)
        if len(meant) < 2:
            base = self._base(meant[0].end)
            return [] if base is None else [base]
        within = {self.cell(*some): None for k in range(len(meant) - 1, 0, -1) for some in combinations(meant, k)}
        for d, other in permutations(meant, 2):
            if d.end in self.bases:  # its base may do as much with the other
                within.setdefault(self.cell(*self.bases[d.end], other))
        return [c for c in within if c is not None and c != cell]

    def posed(self, name: str) -> Known:
        """An end by itself, posed; what is measured of it is not asked for."""
        return self._posed(self._cell_of(Dialled(name)))

    def base_posed(self, name: str) -> Known | None:
        """What an end is swept on, posed; None where that is rest."""
        base = self._base(name)
        return None if base is None else self._posed(base)

    def _posed(self, cell: Cell) -> Known:
        return self._kept(cell).get(cell) or self.meter.pose(cell)

    def _base(self, name: str) -> Cell | None:
        return self.cell(*self.bases[name]) if name in self.bases else None

    def _of(self, dialled: Dialled) -> Known:
        return self.known(self._cell_of(dialled))

    def _cell_of(self, dialled: Dialled) -> Cell:
        cell = self.cell(dialled)
        assert cell is not None
        return cell


def _hashed(*parts: bytes) -> bytes:
    return blake2b(b"".join(parts), digest_size=DIGEST).digest()
