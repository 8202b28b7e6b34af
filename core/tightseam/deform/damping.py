"""Controls that do less while others act."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.deform.ramps import Ramps, compile_ramps
from tightseam.document.model import Control
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class CompiledDamping:
    """All dampings (D,): of which control, by which, along which ramp, to what share, and on which side of the rest (0 for both)."""

    of: Ints
    by: Ints
    ramps: Ramps
    left: Floats
    side: Floats
    rest: Floats

    def damped(self, values: Floats) -> Floats:
        """The values (C,) of all controls, each drawn to its rest by what damps it. What damps counts as it is asked for, itself
        undamped."""
        if not len(self.of):
            return values
        ramps = self.ramps.at(values[self.by])
        away = values - self.rest
        meant = away[self.of] * self.side >= 0
        shares = np.ones(len(values))
        np.multiply.at(shares, self.of, np.where(meant, 1 - (1 - self.left) * ramps, 1.0))
        return np.asarray(self.rest + away * shares)


def compile_damping(controls: Sequence[Control]) -> CompiledDamping:
    row = {c.name: k for k, c in enumerate(controls)}
    every = [(row[c.name], d) for c in controls for d in c.damped]
    return CompiledDamping(
        np.array([of for of, _ in every], int),
        np.array([row[d.by] for _, d in every], int),
        compile_ramps([d for _, d in every]),
        np.array([d.left for _, d in every], float),
        np.array([{"high": 1.0, "low": -1.0, None: 0.0}[d.way] for _, d in every], float),
        np.array([c.rest for c in controls], float),
    )
