"""A landmark as it was found."""

from __future__ import annotations

from dataclasses import dataclass

from tightseam.geometry.types import Floats

DOUBTFUL = 0.7  # of what is at least as sure, 95 of 100 are right, and 80 of 100 are: below it a place wants to be looked at
GUESS = 0.5  # confidence, by how it was found, below which a place is a guess


@dataclass(frozen=True)
class FoundMark:
    """Where a landmark was found, (3,) in cm, and how sure that is: by how it was found, 1 for a place that leaves no choice and 0
    for a guess; of what is suggested, how likely it is within 3 mm of where it belongs."""

    point: Floats
    sure: float


Marks = dict[str, FoundMark]
