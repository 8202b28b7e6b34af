"""Fair timing on a noisy machine: candidates take turns, medians are compared."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Row:
    """One line of the report: what, milliseconds, and the ratio with what it should be."""

    work: str
    ours: float
    reference: str
    theirs: float
    reach: str
    reached: bool

    def __str__(self) -> str:
        ours = f"{'ok  ' if self.reached else 'MISS'} {self.work:<46} {self.ours:8.2f} ms"
        return f"{ours}   {self.reference:<28} {self.theirs:8.2f} ms   {self.theirs / self.ours:6.2f}x   reach {self.reach}"


def medians(candidates: Mapping[str, Callable[[], object]], rounds: int, warm: int = 3) -> dict[str, float]:
    """Median milliseconds of each candidate over `rounds` turns, taken in alternation."""
    times: dict[str, list[float]] = {name: [] for name in candidates}
    for turn in range(rounds + warm):
        for name, run in candidates.items():
            start = time.perf_counter()
            run()
            if turn >= warm:
                times[name].append((time.perf_counter() - start) * 1000)
    return {name: float(np.median(t)) for name, t in times.items()}
