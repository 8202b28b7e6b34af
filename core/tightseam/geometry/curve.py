"""Curves through keys: monotone where the keys are, with own tangents where they are given."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.interpolate import CubicHermiteSpline, PchipInterpolator

from tightseam.geometry.types import Floats


class Curve:
    """A piecewise cubic through keys (at, value, slope or None), `at` strictly rising; level beyond the first and the last key.

    Without slopes of their own the keys get those of Fritsch & Butland (1984), which never overshoot. No keys: zero everywhere.
    """

    def __init__(self, keys: Sequence[tuple[float, float, float | None]]) -> None:
        self._at = np.array([k[0] for k in keys], float)
        self._values = np.array([k[1] for k in keys], float)
        if len(keys) > 1:
            slopes = PchipInterpolator(self._at, self._values).derivative()(self._at)
            own = np.array([np.nan if k[2] is None else k[2] for k in keys], float)
            self._spline = CubicHermiteSpline(self._at, self._values, np.where(np.isnan(own), slopes, own))

    def __call__(self, at: Floats | float) -> Floats:
        """Values at places of any form."""
        if not len(self._at):
            return np.zeros_like(np.asarray(at, float))
        inside = np.clip(at, self._at[0], self._at[-1])
        if len(self._at) == 1:
            return np.full_like(inside, self._values[0])
        return np.asarray(self._spline(inside))
