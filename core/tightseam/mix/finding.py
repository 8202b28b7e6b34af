"""What is found wrong where expressions meet."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from tightseam.findings.finding import Unit
from tightseam.mix.cell import Cell
from tightseam.surfaces.limits import SpotKind

SeamKind = Literal["clash", "self", "off", "gape", "lag", "drift"]
MixKind = SeamKind | SpotKind


@dataclass(frozen=True)
class Fault:
    """A measure over its limit, and more than what is `alone`, each in its order.

    `about` is a seam's name, or the skin; it lies at a `vertex` of a `part`, which is called `place`, and on all its `vertices`.
    """

    kind: MixKind
    about: str
    place: str
    size: float
    unit: Unit
    limit: float
    alone: tuple[float, ...]
    part: str
    vertex: int
    vertices: tuple[int, ...]

    @property
    def excess(self) -> float:
        return self.size / self.limit


@dataclass(frozen=True)
class MixFinding(Fault):
    """A fault of a cell, beyond what its ends do alone."""

    cell: Cell
