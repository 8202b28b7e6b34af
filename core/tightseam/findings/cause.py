"""What moves a place, or holds it back, as findings and pull lists tell it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from tightseam.document.basics import Point

CauseKind = Literal["shape", "cap", "relief", "lids", "eye relief", "seal", "bone", "dual", "ride", "total"]


@dataclass(frozen=True)
class Cause:
    """One cause of movement: its share as a vector in mm (x, y, z), its length, and for bones the weight; means where several vertices
    are asked about."""

    kind: CauseKind
    name: str
    label: str
    millimetres: float
    vector: Point
    weight: float | None = None
