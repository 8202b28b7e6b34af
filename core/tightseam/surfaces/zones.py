"""Where the surface of a skin is judged, and by which limits."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.types import Bools
from tightseam.head.regions import height_of_lips, lids, lips
from tightseam.head.surface import Surface

BEHIND = 2.5  # cm behind the tops of the ears that no ear is any more
LIPS = 1.3  # heights of a lip round the mouth whose corners every opening draws apart


@dataclass(frozen=True)
class Zones:
    """The vertices (N,) of a skin that are its `face`, and its `lips`; what lies behind lids and lips is neither. The back of the `skull`
    is what nothing on a face moves."""

    face: Bools
    lips: Bools
    skull: Bools


def zones_of(surface: Surface) -> Zones:
    """BadRequest where a landmark or a loop of lids or lips is missing."""
    mouth = lips(surface)
    about = mouth.distance <= LIPS * height_of_lips(surface, mouth)
    behind = mouth.inside | lids(surface, "L").inside | lids(surface, "R").inside
    return Zones(~behind & ~about, ~behind & about, _skull(surface))


def _skull(surface: Surface) -> Bools:
    """Above the hinges of the jaw, where the head sits on the neck, and behind the ears."""
    hinges, ears = (np.mean([surface.mark(f"{name}_{side}") for side in "LR"], axis=0) for name in ("jaw_hinge", "ear_top"))
    return np.asarray((surface.points[:, 1] > hinges[1]) & (surface.points[:, 2] < ears[2] - BEHIND))
