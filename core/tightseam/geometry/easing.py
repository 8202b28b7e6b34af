"""Going smoothly from one to the other."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats


def smoothstep(t: Floats) -> Floats:
    """0 up to t = 0 and 1 from t = 1, level at both ends: the cubic 3t\u00b2 - 2t\u00b3 (Hermite)."""
    t = np.clip(t, 0, 1)
    return np.asarray(t * t * (3 - 2 * t))
