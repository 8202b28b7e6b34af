"""What a sweep measures of each seam, one thing at a time."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from tightseam.document.model import Seam
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.mix.finding import SeamKind
from tightseam.seams.clear import ClearGauge
from tightseam.seams.follow import FollowGauge
from tightseam.seams.itself import SelfGauge
from tightseam.seams.lid import LidGauge
from tightseam.seams.lips import LipGauge
from tightseam.seams.meter import Gauge
from tightseam.seams.posed import PosedHead
from tightseam.seams.reading import Place
from tightseam.seams.ride import RideGauge
from tightseam.surfaces.limits import BEYOND, TOWARDS

CLOSE = 0.5  # of a limit from which a third expression may take it over; what is less is not looked at more closely
Found = tuple[float, Place | None]


class Reads(Protocol):
    def __call__(self, posed: PosedHead, least: float = 0.0) -> Found:
        """Millimetres of one thing, and where; what is less than `least` may be told as none."""


class ReadsBetween(Protocol):
    def __call__(self, posed: PosedHead, sides: tuple[Bools, Bools], least: float = 0.0) -> Found:
        """The same of what two sides do together, by the vertices (N,) of the skin that each moves."""


@dataclass(frozen=True)
class SeamMeasure:
    """One thing that is measured of a seam: its `limit` in mm, the vertices by part and the bones that it hangs on, and what reads it.
    Vertices of different `places` have nothing to do with one another."""

    seam: Seam
    kind: SeamKind
    limit: float
    places: Sequence[Mapping[str, Ints]]
    bones: Ints
    read: Reads
    between: ReadsBetween | None = None


@dataclass(frozen=True)
class Sizes:
    """Of each of the measures (M,): millimetres, and where it is worst, the number of a part and its vertex."""

    millimetres: Floats
    parts: Ints
    vertices: Ints

    def where(self, mine: Bools, other: Sizes) -> Sizes:
        """Those of these that are `mine` (M,), the others from another."""
        pairs = (self.millimetres, other.millimetres), (self.parts, other.parts), (self.vertices, other.vertices)
        return Sizes(*(np.where(mine, one, its) for one, its in pairs))


class Judges:
    """Holds sizes against the limits of their measures, and against what expressions do alone. What is there at rest (M,), mm, is no
    expression's doing."""

    def __init__(self, measures: Sequence[SeamMeasure], rest: Floats) -> None:
        self._rest = rest
        self._limits = np.array([m.limit for m in measures])
        self._gapes = np.array([m.kind == "gape" for m in measures], np.bool_)
        self._lids = np.array([m.seam.region == "eyes" for m in measures], np.bool_)

    def over_at_rest(self) -> Bools:
        """Which are over their limits before anything is dialled in."""
        return np.asarray(~self._gapes & (self._rest > self._limits))

    def closed(self, alone: Sequence[Sizes]) -> Bools:
        """Of gapes (M,): do the expressions close the seam as they should? Lips rest closed, so each has to leave them so; lids are closed
        by one of them. Alone, nothing has to be closed."""
        if not alone:
            return np.zeros(len(self._limits), np.bool_)
        gaps = np.stack([a.millimetres for a in alone])
        return np.asarray(self._gapes & (np.where(self._lids, gaps.min(axis=0), gaps.max(axis=0)) <= self._limits))

    def over(self, sizes: Sizes, alone: Sequence[Sizes], most: Sequence[Floats]) -> Bools:
        """Which measures (M,) are over their limits, the mix making them so; `most` (M,) are what they are on the way to each alone."""
        before = np.max([self._rest, *most], axis=0)
        over = sizes.millimetres > np.maximum(self._limits, BEYOND * before)
        return np.where(self._gapes, self.closed(alone) & (sizes.millimetres > self._limits), over)

    def near(self, sizes: Sizes, most: Sequence[Floats]) -> Bools:
        """Which are so near to their limits that a third expression may take them over."""
        before = np.max([self._rest, *most], axis=0)
        return np.asarray(~self._gapes & (sizes.millimetres > np.maximum(CLOSE * self._limits, TOWARDS * before)))


def measures_of(seam: Seam, gauge: Gauge) -> list[SeamMeasure]:
    """What there is to measure of a seam; nothing without a limit."""
    limits = seam.limits
    wanted: list[tuple[SeamKind, float | None, Reads]] = []
    if isinstance(gauge, FollowGauge):
        wanted.append(("lag", limits.lag, _plain(gauge.lag)))
    elif isinstance(gauge, RideGauge):
        wanted += [("drift", limits.drift, _plain(gauge.off)), ("drift", limits.aside, _plain(gauge.aside))]
    else:
        wanted.append(("self" if isinstance(gauge, SelfGauge) else "clash", limits.overlap, gauge.overlap))
    if isinstance(gauge, LidGauge):
        wanted += [("off", limits.gap, _plain(gauge.off_eye)), ("gape", limits.closed_gap, _plain(gauge.opening))]
    if isinstance(gauge, LipGauge):
        wanted.append(("gape", limits.closed_gap, _plain(gauge.opening)))
    bones = gauge.bones if isinstance(gauge, FollowGauge) else np.zeros(0, np.int64)
    between = gauge.overlap_between if isinstance(gauge, SelfGauge) else None
    places: Sequence[Mapping[str, Ints]] = (gauge.places if isinstance(gauge, ClearGauge) else ()) or (gauge.touching,)
    return [SeamMeasure(seam, kind, limit, places, bones, read, between) for kind, limit, read in wanted if limit]


def _plain(read: Callable[[PosedHead], Found]) -> Reads:
    return lambda posed, least=0.0: read(posed)
