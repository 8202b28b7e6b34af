"""Lines cut out of a surface, read between their vertices."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PchipInterpolator, make_interp_spline

from tightseam.geometry.polyline import arc_length
from tightseam.geometry.types import Floats

STEPS = 600  # places a smoothed line is read at


def smoothed(line: Floats) -> Floats:
    """A curve through the points (K, 3) of a line, evenly read at STEPS places: extremes then lie between the vertices as well."""
    line = line[np.concatenate([[True], np.linalg.norm(np.diff(line, axis=0), axis=1) > 1e-6])]
    if len(line) < 4:
        return line
    arc = arc_length(line)
    curve = make_interp_spline(arc, line, k=3)
    even = np.linspace(0, arc[-1], STEPS)
    tame = PchipInterpolator(arc, line)(even)  # never overshoots; where both disagree, the corner is real
    smooth = np.asarray(curve(even))
    return np.where(np.linalg.norm(smooth - tame, axis=1)[:, None] < 0.02 * arc[-1], smooth, tame)


def half_way(line: Floats) -> Floats:
    """The point half way along a line (K, 3)."""
    arc = arc_length(line)
    return np.array([np.interp(arc[-1] / 2, arc, line[:, k]) for k in range(line.shape[1])])


def off_chord(line: Floats, start: Floats, end: Floats) -> Floats:
    """Signed distance (K,) of flat points (K, 2) from the chord from `start` to `end`, positive on its left."""
    along = (end - start) / max(float(np.linalg.norm(end - start)), 1e-12)
    d = line - start
    return np.asarray(along[0] * d[:, 1] - along[1] * d[:, 0])
