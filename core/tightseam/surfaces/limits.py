"""What the surface of a skin may do in a mix, and from where it is worth a word."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from tightseam.findings.finding import Unit

SKIN = "skin"  # what findings on a surface are about
SpotKind = Literal["stretch", "squeeze", "flip", "crumple", "hollow", "split", "squash"]
Zone = Literal["face", "lips"]


@dataclass(frozen=True)
class SpotLimit:
    """Up to which `size` (in `unit`) a kind is within limits; `nothing` is what an unmoved surface has."""

    size: float
    unit: Unit
    nothing: float = 0.0

    def at(self, share: float) -> float:
        """The size that is so much of the way from nothing to the limit."""
        return self.nothing + share * (self.size - self.nothing)


LIMITS: dict[tuple[SpotKind, Zone], SpotLimit] = {
    ("stretch", "face"): SpotLimit(3.0, "times", 1.0),
    ("stretch", "lips"): SpotLimit(4.0, "times", 1.0),
    ("squeeze", "face"): SpotLimit(8.0, "times", 1.0),
    ("flip", "face"): SpotLimit(1.0, "mm²"),
    ("flip", "lips"): SpotLimit(10.0, "mm²"),
    ("crumple", "face"): SpotLimit(0.8, "share"),
    ("hollow", "face"): SpotLimit(1.0, "mm"),
    ("split", "face"): SpotLimit(0.1, "mm"),
    ("squash", "face"): SpotLimit(0.1, "mm"),
}
BEYOND = 1.25  # times what one expression does alone from where it is the mix that does it,
TOWARDS = 1.1  # and from where it may yet be, with a third
