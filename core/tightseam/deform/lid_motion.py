"""How far lids close: what controls leave open of them, and how they follow the gaze."""

from __future__ import annotations

import math

import numpy as np

from tightseam.deform.curves import compile_curve
from tightseam.document.model import GazeFollow
from tightseam.geometry.types import Floats

PER_DEGREE = 4  # places of a table; the kernels that read it are compiled with this and with WIDEST
WIDEST = 0.5  # of the closing that lids can be opened beyond their rest, neared softly


def openness_limited(openness: float) -> float:
    """How far a lid is open, 0 closed, 1 at rest, with a soft end beyond: 1 + w (1 - exp(-(o - 1) / w))."""
    return 1 - WIDEST * math.expm1(-(openness - 1) / WIDEST) if openness > 1 else openness


def follow_table(follow: GazeFollow) -> Floats:
    """How one lid follows its eye, as tables (3, 721) over -90° to 90° in quarters of a degree: the closing by height and by way across,
    and the slide (radians) by way across; nothing for the gaze straight ahead."""
    at = np.arange(-90 * PER_DEGREE, 90 * PER_DEGREE + 1) / PER_DEGREE
    height, across, slide = (compile_curve(keys)(at) - compile_curve(keys)(0.0) for keys in (follow.height, follow.across, follow.slide))
    return np.stack([height, across, np.radians(slide)])


def read_table(table: Floats, degrees: float) -> float:
    """What a table (721,) gives for a gaze."""
    place = min(max((degrees + 90) * PER_DEGREE, 0.0), len(table) - 1.0)
    k = min(int(place), len(table) - 2)
    return float(table[k] + (table[k + 1] - table[k]) * (place - k))


def gaze_of(turn: Floats, outward: float) -> tuple[float, float]:
    """Degrees upwards and towards the outer corner for the rotation (3, 3) of an eye; `outward` is 1 where that corner lies to the
    character's left, else -1."""
    x, y, z = turn[:, 2].tolist()
    return math.degrees(math.asin(min(max(y, -1.0), 1.0))), outward * math.degrees(math.atan2(x, z))
