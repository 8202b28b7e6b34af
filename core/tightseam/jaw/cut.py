"""Flat cuts through the posed lower face, beside the neutral."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from tightseam.document.units import CM_TO_MM
from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats
from tightseam.jaw.curves import JawMeter

CutName = Literal["cheeks", "middle"]


@dataclass(frozen=True)
class JawCut:
    """Lines (K, 2) in mm of the outside of the skin as it is posed and in the neutral, both as seen from the head: across the cheeks, to
    the left and forward, or down the middle, forward and up."""

    posed: tuple[Floats, ...]
    neutral: tuple[Floats, ...]


def jaw_cut(meter: JawMeter, name: CutName, at: float, values: Mapping[str, float]) -> JawCut:
    """Across the cheeks at a height from the edge of the jaw (0) to the cheeks (1); down the middle it does not matter."""
    face, s = meter.face, meter.face.surface
    if name == "cheeks":
        low, high = (np.mean([s.mark(f"{n}_{side}")[1] for side in "LR"]) for n in ("jaw_angle", "cheek"))
        plane, axes = Plane(np.array([0.0, low + at * (high - low), 0.0]), np.array([0.0, 1.0, 0.0])), [0, 2]
    else:
        plane, axes = Plane(np.zeros(3), np.array([1.0, 0.0, 0.0])), [2, 1]
    triangles = s.triangles[face.outside[s.triangles].all(axis=1)]

    def cut(points: Floats) -> tuple[Floats, ...]:
        return tuple(CM_TO_MM * line.outline[:, axes] for line in section(points, triangles, plane))

    return JawCut(cut(meter.in_head(values)[meter.rows]), cut(s.points))
