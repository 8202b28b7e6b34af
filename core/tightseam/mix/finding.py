"""What is found wrong where expressions meet."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Any, Literal

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

    def as_fault(self) -> dict[str, Any]:
        """What every fault has, by name: another kind of it is made from that."""
        return {f.name: getattr(self, f.name) for f in fields(Fault)}


@dataclass(frozen=True)
class MixFinding(Fault):
    """A fault of a cell, beyond what its ends do alone."""

    cell: Cell
