"""A sweep: pairs of which only what both sides do is measured against the same pairs measured wholly, and two processes against one."""

from __future__ import annotations

import random
import time
from dataclasses import replace

from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character
from tightseam.edits.registry import make_step
from tightseam.mix.cell import Cell
from tightseam.mix.plan import planned
from tightseam.mix.sweep import sweep
from tightseam.mix.sweeper import Sweeper

from benchmarks.timing import Row

SAMPLE = 120  # pairs
MOST_MS = 4.0  # of processor time a pair of a base head
FEW = ("smile", "pucker", "jaw_open", "blink", "brows_up", "gaze_height", "gaze_across", "squint")


def with_starter_set(head: Character, store: MemoryStore) -> Character:
    """A head with all action units, a control for each."""
    head = make_step("shape.starter", {}).params.apply(head, store)
    driven = {link.target for c in head.controls for link in c.links}
    left = [s.name for s in head.shapes if s.name not in driven]
    return make_step("control.for_shapes", {"shapes": left}).params.apply(head, store)


def run(name: str, head: Character, store: MemoryStore, at_most: float) -> list[Row]:
    """With `at_most` so much of the whole."""
    quick, whole = Sweeper(head, store), Sweeper(head, store, wholly=True)
    plan = planned(quick)
    whole.bases = quick.bases
    cells = random.Random(1).sample(plan.pairs, SAMPLE)
    for cell in cells[:10]:
        quick.measure(cell)
    ours, theirs = (_each(sweeper, cells) for sweeper in (quick, whole))
    rows = [Row(f"a pair of a sweep, {name}", ours, "measured wholly", theirs, f"<= {at_most:.2f}x", ours <= at_most * theirs)]
    if at_most <= 0.25:
        rows.append(Row(f"a pair of a sweep, {name}", ours, "design: 4 ms", MOST_MS, ">= 1x", ours <= MOST_MS))
    return rows


def _each(sweeper: Sweeper, cells: list[Cell]) -> float:
    """Milliseconds of processor time a pair, what is known of its ends alone left out."""
    for cell in cells:
        for d in cell.dialled:
            alone = sweeper.cell(d)
            assert alone is not None
            sweeper.known(alone)
    start = time.process_time()
    for cell in cells:
        sweeper.measure(cell)
    return 1e3 * (time.process_time() - start) / len(cells)


def processes(head: Character, store: MemoryStore) -> list[Row]:
    few = replace(head, controls=tuple(c for c in head.controls if c.name in FEW))
    took = []
    for count in (1, 2):
        start = time.perf_counter()
        sweep(few, store, processes=count)
        took.append(1e3 * (time.perf_counter() - start))
    return [Row("a sweep in two processes", took[1], "in one", took[0], "<= 0.62x", took[1] <= 0.62 * took[0])]
