"""A landmark as it was found."""

from __future__ import annotations

from dataclasses import dataclass

from tightseam.geometry.types import Floats

DOUBTFUL = 0.6  # confidence below which a place wants to be looked at


@dataclass(frozen=True)
class FoundMark:
    """Where a landmark was found, (3,) in cm, and how sure that is: 1 for a place that leaves no choice, 0 for a guess."""

    point: Floats
    sure: float


Marks = dict[str, FoundMark]
