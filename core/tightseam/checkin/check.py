"""What a check says."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from tightseam.findings.finding import Repair
from tightseam.geometry.types import Ints

Verdict = Literal["fine", "look", "fault"]
Region = Literal["parts", "mesh", "symmetry", "mouth", "lids", "eyes", "brows", "skin"]
GRAVITY: dict[Verdict, int] = {"fault": 0, "look": 1, "fine": 2}


@dataclass(frozen=True)
class Patch:
    """Vertices of one part that a check speaks of."""

    part: str
    vertices: tuple[int, ...]


@dataclass(frozen=True)
class Mark:
    """A vertex with a word to be written beside it, such as the valence of a pole."""

    part: str
    vertex: int
    text: str


@dataclass(frozen=True)
class Check:
    """One thing that was looked at: what was measured, against which limit, with what verdict, where, why, and what to do.

    `said` is the measured value in words; `limits` are the keys of the limits it was held against; `waived` is the reason
    somebody gave for letting it be.
    """

    key: str
    label: str
    region: Region
    verdict: Verdict
    said: str
    why: str = ""
    what: str = ""
    limits: tuple[str, ...] = ()
    places: tuple[Patch, ...] = ()
    marks: tuple[Mark, ...] = ()
    repairs: tuple[Repair, ...] = field(default=())
    waived: str | None = None

    @property
    def grave(self) -> int:
        """For sorting: intended ones behind all others, then fault, look, fine."""
        return GRAVITY[self.verdict] if self.waived is None else len(GRAVITY)


def place(part: str, vertices: Ints | Sequence[int]) -> tuple[Patch, ...]:
    """The place of some vertices; none where there are none."""
    found = np.unique(np.asarray(vertices, np.int64))
    return (Patch(part, tuple(found.tolist())),) if len(found) else ()


def count(number: int, noun: str, plural: str | None = None) -> str:
    """ "1 vertex", "3 vertices"."""
    return f"{number:,} {noun if number == 1 else plural or noun + 's'}"
