"""Where the surface of a skin is judged, and by which limits."""

from __future__ import annotations

from dataclasses import dataclass

from tightseam.geometry.types import Bools
from tightseam.head.regions import height_of_lips, lids, lips
from tightseam.head.surface import Surface

LIPS = 1.3  # heights of a lip round the mouth whose corners every opening draws apart


@dataclass(frozen=True)
class Zones:
    """The vertices (N,) of a skin that are its `face`, and its `lips`; what lies behind lids and lips is neither."""

    face: Bools
    lips: Bools


def zones_of(surface: Surface) -> Zones:
    """BadRequest where a landmark or a loop of lids or lips is missing."""
    mouth = lips(surface)
    about = mouth.distance <= LIPS * height_of_lips(surface, mouth)
    behind = mouth.inside | lids(surface, "L").inside | lids(surface, "R").inside
    return Zones(~behind & ~about, ~behind & about)
