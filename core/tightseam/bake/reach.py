"""How far controls can bring what they drive."""

from __future__ import annotations

import numpy as np

from tightseam.deform.drive import Drive
from tightseam.document.model import Control
from tightseam.geometry.types import Floats

TRIED = 9  # values of a control between its ends, for links along curves


def effects_of(drive: Drive, controls: tuple[Control, ...], spans: Floats) -> Floats:
    """The least and the most that each control by itself asks of each target, (2, R, C); `spans` (C, 2) of the controls."""
    rest = np.array([c.rest for c in controls], float)
    found = []
    for share in np.linspace(0, 1, TRIED):
        found.append(drive.effects(spans[:, 0] + share * (spans[:, 1] - spans[:, 0])))
    found.append(drive.effects(rest))
    every = np.array(found)
    return np.stack([every.min(axis=0), every.max(axis=0)])


def reach_of(drive: Drive, controls: tuple[Control, ...], spans: Floats) -> Floats:
    """The least and the most that all controls together ask of each target, (R, 2)."""
    low, high = effects_of(drive, controls, spans)
    return np.stack([low.sum(axis=1), high.sum(axis=1)], axis=1)
