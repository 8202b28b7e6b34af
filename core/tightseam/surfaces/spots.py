"""What is measured of a skin in a pose, and the places where it is wrong."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tightseam.geometry.types import Floats
from tightseam.surfaces.limits import BEYOND, SpotKind, SpotLimit
from tightseam.surfaces.strain import Strain


@dataclass(frozen=True)
class SkinState:
    """What is measured of a posed skin: the strain of all its triangles and vertices, the depth (K,) in mm of each region that may sink
    in, and how far in mm its cuts (P,) are open and the vertices of its skull (S,) have gone."""

    strain: Strain
    hollows: Mapping[str, Floats]
    opened: Floats
    given: Floats


@dataclass(frozen=True)
class Spot:
    """A place of the skin near or over a limit: the worst vertex there and all that are, its size, and what that is in each of the states
    alone. Of a hollow these add up."""

    kind: SpotKind
    place: str
    size: float
    limit: SpotLimit
    alone: tuple[float, ...]
    vertex: int
    vertices: tuple[int, ...]

    @property
    def over(self) -> bool:
        """Over the limit, and it is the mix that makes it so?"""
        if self.kind == "hollow":
            return self.size - sum(self.alone) > self.limit.size
        return self.size > max(self.limit.size, BEYOND * max(self.alone, default=0.0))
