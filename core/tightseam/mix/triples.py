"""Which three expressions are worth a cell: pairs that come near to a limit, with each third that touches the place."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from tightseam.geometry.types import Bools
from tightseam.mix.cell import REST, Cell, Dialled
from tightseam.mix.sweeper import CellResult, Sweeper


def triples(sweeper: Sweeper, pairs: Iterable[CellResult]) -> tuple[Cell, ...]:
    """The cells of three ends, each once, in the order of the pairs; any two of the three have to be a cell too."""
    return tuple(dict.fromkeys(_Thirds(sweeper, list(pairs)).found()))


class _Thirds:
    def __init__(self, sweeper: Sweeper, pairs: list[CellResult]) -> None:
        self._sweeper, self._pairs = sweeper, pairs
        self._cells = {p.cell for p in pairs}
        self._rest = sweeper.meter.pose(REST)
        self._moves: dict[str, tuple[Bools, Bools]] = {}

    def found(self) -> Iterator[Cell]:
        ends = {d.end for p in self._pairs for d in self._sweeper.meant(p.cell)}
        ordered = [name for name in self._sweeper.ends if name in ends]
        for pair in self._pairs:
            meant = self._sweeper.meant(pair.cell)
            if not (pair.near_vertices or pair.near_measures) or any(d.strength != 1.0 for d in meant):
                continue
            for third in ordered:
                cell = self._sweeper.cell(*meant, Dialled(third))
                if cell is not None and cell != pair.cell and self._swept(meant, third) and self._touches(third, pair):
                    yield cell

    def _swept(self, meant: tuple[Dialled, ...], third: str) -> bool:
        """Are both of a pair swept with the third?"""
        return all(d.end != third and self._sweeper.cell(d, Dialled(third)) in self._cells for d in meant)

    def _touches(self, third: str, pair: CellResult) -> bool:
        skin, measures = self._moved(third)
        return bool(skin[list(pair.near_vertices)].any() or measures[list(pair.near_measures)].any())

    def _moved(self, name: str) -> tuple[Bools, Bools]:
        """The vertices of the skin that an end moves, and the measures that hang on what it moves."""
        if name not in self._moves:
            known = self._sweeper.posed(name)
            against = self._sweeper.base_posed(name) or self._rest
            self._moves[name] = self._sweeper.meter.skin_moved(known, against), self._sweeper.meter.touched_by(known, against)
        return self._moves[name]
