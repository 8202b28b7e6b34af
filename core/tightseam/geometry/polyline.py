"""Lines through points."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats


def arc_length(line: Floats) -> Floats:
    """How far along a line (K, D) each of its points lies, (K,)."""
    return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])


def arc_share(line: Floats) -> Floats:
    """The same as a share of the whole line, 0 to 1."""
    walked = arc_length(line)
    return np.asarray(walked / max(walked[-1], 1e-12))
