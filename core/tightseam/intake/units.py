"""How large a unit of a file is, guessed from the size of the head in it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.document.model import PartKind
from tightseam.document.units import UNITS
from tightseam.geometry.types import Floats

COMMON = ("cm", "m", "mm", "inch", "dm")  # the likelier first: a later one must fit clearly better
EYES_APART = 6.3  # cm
SKIN_TALL = 28.0  # cm, head and neck
CLEARLY = 0.35  # in log units


def guess_unit(parts: Mapping[str, tuple[PartKind, Floats]]) -> str:
    """The unit in which the head has a likely size: by the distance of the eyes, else by the height of the skin."""
    eyes = [p.mean(axis=0) for kind, p in parts.values() if kind == "eye"]
    skin = [p for kind, p in parts.values() if kind == "skin"]
    if len(eyes) == 2:
        measured, expected = float(np.linalg.norm(eyes[0] - eyes[1])), EYES_APART
    else:
        measured, expected = max((float(np.ptp(p[:, 1])) for p in skin or [p for _, p in parts.values()]), default=0.0), SKIN_TALL
    if measured <= 0:
        return "cm"
    misfit = {u: abs(np.log(measured * UNITS[u] / expected)) for u in COMMON}
    best = "cm"
    for unit in COMMON:
        if misfit[unit] < misfit[best] - CLEARLY:
            best = unit
    return best
