"""Who measures the cells of a sweep: this process, or several."""

from __future__ import annotations

import pickle
from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context
from typing import Protocol

from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.model import Character
from tightseam.document.sections import array_hashes
from tightseam.mix.cell import Cell
from tightseam.mix.measures import Sizes
from tightseam.mix.parent import end_with_parent
from tightseam.mix.rules import Base
from tightseam.mix.sweeper import CellResult, Sweeper

AT_ONCE = 64  # cells that are handed over together


@dataclass(frozen=True)
class Lesson:
    """What all who measure have to know before pairs are measured: the sizes of ends alone, and what wakes what."""

    sizes: Mapping[Cell, Sizes]
    bases: Mapping[str, Base]


@dataclass(frozen=True)
class Chunk:
    """Some cells, what they were when they were last measured, and of triples those of their `pairs` that have findings."""

    cells: tuple[Cell, ...]
    was: Mapping[Cell, CellResult]
    pairs: tuple[CellResult, ...] = ()


@dataclass(frozen=True)
class Measured:
    """A cell's result; for one end by itself, where that had to be measured, with its sizes."""

    result: CellResult
    sizes: Sizes | None = None


class Executor(Protocol):
    """Measures chunks of cells. What comes out does not depend on who measures what."""

    def run(self, chunks: Sequence[Chunk], lesson: Lesson) -> Iterator[list[Measured]]:
        """The results chunk by chunk, in order."""


def chunked(cells: Sequence[Cell], was: Mapping[Cell, CellResult], pairs: Sequence[CellResult] = ()) -> list[Chunk]:
    """The cells in chunks; `pairs` are all that were measured, where the cells are of three ends."""
    faulty = [p for p in pairs if p.findings]
    parts = [tuple(cells[k : k + AT_ONCE]) for k in range(0, len(cells), AT_ONCE)]
    return [Chunk(part, {c: was[c] for c in part if c in was}, _within(part, faulty)) for part in parts]


def _within(cells: Sequence[Cell], pairs: Sequence[CellResult]) -> tuple[CellResult, ...]:
    ends = [set(c.ends) for c in cells]
    return tuple(p for p in pairs if any(set(p.cell.ends) <= of for of in ends))


def work(sweeper: Sweeper, chunk: Chunk, lesson: Lesson) -> list[Measured]:
    """What one process does with a chunk."""
    sweeper.taught(lesson.sizes, lesson.bases)
    found = []
    for cell in chunk.cells:
        result = sweeper.measure(cell, chunk.was.get(cell), [p for p in chunk.pairs if set(p.cell.ends) <= set(cell.ends)])
        learnt = len(sweeper.meant(cell)) == 1 and result is not chunk.was.get(cell)
        found.append(Measured(result, sweeper.sizes_alone(cell) if learnt else None))
    return found


class InProcess:
    """Measures with one sweeper, one cell after the other."""

    def __init__(self, sweeper: Sweeper) -> None:
        self._sweeper = sweeper

    def run(self, chunks: Sequence[Chunk], lesson: Lesson) -> Iterator[list[Measured]]:
        return (work(self._sweeper, chunk, lesson) for chunk in chunks)


class Processes:
    """Measures in so many processes of this machine. They are forked from this one when there is something to measure, and begin with all
    that its sweeper knows by then; only it may do anything just then."""

    def __init__(self, count: int, sweeper: Sweeper) -> None:
        self._pool = ProcessPoolExecutor(count, get_context("fork"), _begin, (sweeper,))

    def run(self, chunks: Sequence[Chunk], lesson: Lesson) -> Iterator[list[Measured]]:
        return self._pool.map(_work, chunks, [lesson] * len(chunks))

    def close(self) -> None:
        self._pool.shutdown(wait=True, cancel_futures=True)


def packed(character: Character, store: ArrayStore, own: bool | None) -> bytes:
    """What a sweeper is made from, for another process."""
    return pickle.dumps((character, {key: store.get(key) for key in array_hashes(character)}, own))


def unpacked(subject: bytes) -> Sweeper:
    """The sweeper of what was packed by this program."""
    character, arrays, own = pickle.loads(subject)
    store = MemoryStore()
    for key, array in arrays.items():
        array.setflags(write=False)  # which a pickle forgets
        store.own[key] = array
    return Sweeper(character, store, own)


_sweepers: list[Sweeper] = []


def _begin(sweeper: Sweeper) -> None:
    end_with_parent()
    _sweepers[:] = [sweeper]


def _work(chunk: Chunk, lesson: Lesson) -> list[Measured]:
    return work(_sweepers[0], chunk, lesson)
