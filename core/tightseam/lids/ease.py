"""The closed line eased as little as closes the lids."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, CurveKeys, Lids
from tightseam.document.poses import rest_values
from tightseam.geometry.rotation import rotation
from tightseam.geometry.types import Floats
from tightseam.lids.gauge import EyeGauge, EyeReading
from tightseam.lids.tune import with_lids

HALVINGS = 6
GAZES = (0.0, 30.0, -30.0)  # degrees to the side, where lids slide


def eased_line(character: Character, store: ArrayStore, pair: Lids, fits: Callable[[Floats, EyeReading], bool]) -> CurveKeys | None:
    """Keys of `pair` drawn towards a level line by the least, to one part in 64, with which what `fits` says of the closed skin (N, 3)
    and its reading holds; None where it does not hold for a level line either."""
    level = float(np.mean([k.value for k in pair.line]))

    def eased(share: float) -> CurveKeys:
        return tuple(
            replace(k, value=k.value + share * (level - k.value), slope=None if k.slope is None else (1 - share) * k.slope)
            for k in pair.line
        )

    def holds(share: float) -> bool:
        changed = with_lids(character, replace(pair, line=eased(share)))
        evaluator = Evaluator(changed, store)
        which = next(k for k, x in enumerate(changed.lids) if x.side == pair.side)
        gauge = EyeGauge(changed, changed.lids[which], evaluator.rig.lids[which], store, evaluator)
        for turn in (rotation(np.array([0.0, across, 0.0])) for across in GAZES):
            closed = evaluator.lids_at(rest_values(changed), 1.0, turn)
            if not fits(closed[gauge.rows], gauge.read(closed, turn)):
                return False
        return True

    low, high = 0.0, 1.0
    if not holds(high):
        return None
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if holds(middle) else (middle, high)
    return eased(high)
