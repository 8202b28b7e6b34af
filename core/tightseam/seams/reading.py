"""What measuring a seam in one pose gives."""

from __future__ import annotations

from dataclasses import dataclass

from tightseam.document.model import Point


@dataclass(frozen=True)
class Place:
    """Where something was measured: the vertex nearest to it, and the point in the posed head, cm."""

    part: str
    vertex: int
    point: Point


@dataclass(frozen=True)
class Reading:
    """Worst values of one seam in one pose, in mm; None where the pose does not judge it. A `drift` is off the skin, or `aside` along it.

    `excess` is the worst value as a multiple of its limit: within limits up to 1.
    """

    seam: str
    overlap: float | None = None
    gap: float | None = None
    gap_limit: float | None = None
    lag: float | None = None
    drift: float | None = None
    aside: bool = False
    excess: float = 0.0
    worst: Place | None = None

    @property
    def within(self) -> bool:
        return self.excess <= 1.0
