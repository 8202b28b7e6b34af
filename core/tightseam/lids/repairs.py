"""Which map or line is to blame for a fault of lids, and the edit that changes it by the least."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np

from tightseam.brush.canvas import Canvas
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, CurveKeys
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.lids.ease import eased_line
from tightseam.lids.gauge import EyeGauge, EyeReading
from tightseam.lids.surface import WHOLE, LidSurface
from tightseam.weights.fields import grown

LidCheck = Literal["short", "lid_in_eye", "eye_in_lid", "off_eye", "crossing", "crease", "stretch"]
Lid = Literal["upper", "lower"]
LIDS: tuple[Lid, Lid] = ("upper", "lower")
MOST_PASSED = 1.0  # mm by which closed margins may pass each other
EASE_TO = 0.9  # of the limits: other gazes read a little more


@dataclass(frozen=True)
class LidRepair:
    """Why something is wrong, in a sentence or nothing; the edit that would put it right, with its parameters but for the side, None where
    there is none; and the vertices concerned."""

    cause: str
    edit: str | None
    params: dict[str, Any]
    vertices: Ints


class LidRepairs:
    """Repairs for one eye."""

    def __init__(self, character: Character, store: ArrayStore, gauge: EyeGauge, canvas: Canvas, surface: LidSurface) -> None:
        self._character, self._store, self._gauge = character, store, gauge
        self._canvas, self._surface = canvas, surface

    def of_contact(self, check: LidCheck, over: Bools, steep: bool) -> LidRepair:
        """For vertices (N,) that gape or overlap. With `steep` the margins miss one another where they take all of the closing."""
        surface, found = self._surface, np.flatnonzero(over)
        by = self._gauge.pair.driver.kind
        if by != "arc":
            return LidRepair(f"Closed by {by}; the arc would keep to the eye.", "lids.drive", {"driver": {"kind": "arc"}}, found)
        if check in ("short", "crossing"):
            if surface.whole(over):
                return self._eased(found)
            taken = float(surface.share[found].min())
            return self._mended(over, f"Its margin takes {taken:.0%} of the closing there." if taken <= WHOLE else "")
        relieved = float(surface.relief[found].min())
        if steep and relieved > WHOLE:
            return self._eased(found)
        if check == "off_eye":
            cause = "It does not sink back where the cornea has turned away."
        else:
            cause = f"Its eye relief is {relieved:.0%} there." if relieved < WHOLE else ""
        lifted = np.flatnonzero(grown(self._canvas, over, 1) & surface.of_lids)
        return LidRepair(cause, "lids.fit_relief", {"vertices": lifted.tolist()}, found)

    def of_crease(self, creased: Bools) -> LidRepair:
        return self._mended(creased, "")

    def of_stretch(self, over: Bools, steep: bool) -> LidRepair:
        patch = np.flatnonzero(grown(self._canvas, over, 1) & self._surface.of_lids)
        return self._eased(patch) if steep else LidRepair("", "lids.smooth_map", {"map": "share", "vertices": patch.tolist()}, patch)

    def _mended(self, guilty: Bools, cause: str) -> LidRepair:
        patch = self._surface.patch_of_share(guilty)
        return LidRepair(cause, "lids.mend_map", {"map": "share", "vertices": patch.tolist()}, patch)

    def _eased(self, over: Ints) -> LidRepair:
        cause, keys = "The closed line is too steep.", self._eased_keys
        if keys is None:
            return LidRepair(cause, None, {}, over)
        return LidRepair(cause, "lids.set_line", {"keys": [asdict(k) for k in keys]}, over)

    @cached_property
    def _eased_keys(self) -> CurveKeys | None:
        slit, passed = (EASE_TO * (x or 0) / CM_TO_MM for x in (self._gauge.limits.closed_gap, MOST_PASSED))

        def fits(closed: Floats, reading: EyeReading) -> bool:
            stretched = any(self._surface.stretched(closed, lid)[1].any() for lid in LIDS)
            return bool(reading.slit.max() <= slit and reading.passed.max() <= passed) and not stretched

        return eased_line(self._character, self._store, self._gauge.pair, fits)
