"""Where the posed head asks for a relief: hollow, full or dragged, measured with the jaw wide open."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Floats
from tightseam.jaw.curves import JawMeter
from tightseam.jaw.movement import opened
from tightseam.jaw.reliefs import MEASURED, PRESETS, UPWARDS, PresetName, preset_region

LEAST = 0.5  # mm from which a relief is worth proposing
CORE = 0.5  # of a region: what lies nearer to its rim says little of it


@dataclass(frozen=True)
class ReliefNeed:
    """What a preset would mend: how far (mm) the skin stands below the smoothest surface through the rim of its region (`hollow`), above
    it (`full`), or beside it along the surface (`dragged`), and the `cm` of relief that takes it there."""

    preset: PresetName
    found: Literal["hollow", "full", "dragged"]
    size: float
    cm: float


def relief_needs(meter: JawMeter) -> tuple[ReliefNeed, ...]:
    """For each preset that can be measured the most it would mend, where that is worth while. What reliefs ask for on purpose is not
    hollow. BadRequest where nothing opens the jaw, or a landmark is missing."""
    off = _Off(meter)
    found = []
    for name in MEASURED:
        needs = [need for side in PRESETS[name].sides for need in _needs(off, name, side)]
        worst = max(needs, key=lambda n: n.size, default=None)
        if worst is not None and worst.size >= LEAST:
            found.append(worst)
    return tuple(found)


def _needs(off: _Off, name: PresetName, side: str) -> Iterator[ReliefNeed]:
    vertices, region = preset_region(off.meter.face, name, side)
    core = vertices[(region > CORE) & off.known[vertices]]
    if not len(core):
        return
    if PRESETS[name].along:
        dragged = float(off.along(np.array(UPWARDS))[core].max())
        yield ReliefNeed(name, "dragged", CM_TO_MM * dragged, dragged)
    else:
        hollow, full = float(off.unasked[core].max()), float(-off.depth[core].min())
        yield ReliefNeed(name, "hollow", CM_TO_MM * hollow, hollow)
        yield ReliefNeed(name, "full", CM_TO_MM * full, -full)


class _Off:
    """How far each vertex of the skin is off the smooth surface of its region with the jaw wide open; `known` (N,) lies in a region.
    `depth` (N,) in cm is how deep it lies below it, `unasked` how much of that no relief asks for."""

    def __init__(self, meter: JawMeter) -> None:
        self.meter = meter
        values = opened(meter.face.character, 1)
        posed, asked = meter.in_head(values)[meter.rows], meter.asked(values)
        self.known = np.zeros(len(posed), bool)
        self.depth = np.zeros(len(posed))
        self._beside, self._normals = np.zeros_like(posed), np.zeros_like(posed)
        for of in meter.hollows.values():
            back, normals = of.back(posed)
            self.known[of.vertices] = True
            self.depth[of.vertices] = (back * normals).sum(axis=1)
            self._beside[of.vertices], self._normals[of.vertices] = back, normals
        self.unasked = self.depth - asked

    def along(self, way: Floats) -> Floats:
        """How far (N,) in cm each vertex has to go back along the surface towards `way` (3,)."""
        tangent = way - (self._normals @ way)[:, None] * self._normals
        return np.asarray((self._beside * tangent).sum(axis=1) / np.maximum(np.linalg.norm(tangent, axis=1), 1e-9))
