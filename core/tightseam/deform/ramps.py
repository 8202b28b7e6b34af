"""Ramps over values: nothing up to where they come in, all from where they are full."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.document.model import Damping, Driver
from tightseam.geometry.types import Floats


@dataclass(frozen=True)
class Ramps:
    """From where each comes in (D,), and one over the way from there to where it is full (D,)."""

    start: Floats
    scale: Floats

    def at(self, values: Floats) -> Floats:
        """How far each is in, (D,), 0 to 1, at values (D,)."""
        return np.clip((values - self.start) * self.scale, 0.0, 1.0)


def compile_ramps(ramps: Sequence[Driver | Damping]) -> Ramps:
    start, full = (np.array([getattr(r, name) for r in ramps], float) for name in ("comes_in", "full"))
    return Ramps(start, 1 / (full - start))
