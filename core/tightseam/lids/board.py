"""The lid board: every closing against every gaze, with the worst overlap and gap of each eye."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.rotation import rotation
from tightseam.lids.gauge import EyeGauge, EyeReading

CLOSINGS = (0.0, 0.2, 0.4, 0.6, 0.8, 1.0)
GAZES = ((0, 0), (20, 0), (-25, 0), (0, 30), (0, -30))  # degrees up, and towards the outer corner of each eye
STRAIGHT = GAZES[0]

Measure = Literal["overlap", "gap", "slit"]


@dataclass(frozen=True)
class Cell:
    """One eye at a closing and a gaze (degrees up, and towards the outer corner): in mm the deepest overlap of lids and eye, the widest
    gap between a margin and the eye and, closed, between the margins. `excess` is the worst of these as a share of its limit, `worst` says
    which that is; `vertex` of the skin is next to it. `values` are those of the controls that pose it so."""

    side: str
    closing: float
    height: float
    outward: float
    overlap: float
    gap: float
    slit: float | None
    excess: float
    worst: Measure
    vertex: int
    values: Mapping[str, float]

    @property
    def within(self) -> bool:
        return self.excess <= 1


@dataclass(frozen=True)
class Board:
    """All cells, by side, then closing, then gaze."""

    closings: tuple[float, ...]
    gazes: tuple[tuple[float, float], ...]
    cells: tuple[Cell, ...]

    @property
    def worst(self) -> Cell:
        return max(self.cells, key=lambda c: c.excess)


@dataclass(frozen=True)
class Moment:
    """An eye as it reads at a closing and a gaze."""

    gauge: EyeGauge
    closing: float
    gaze: tuple[float, float]
    reading: EyeReading


class LidBoard:
    """Measures the lids of one character over closings and gazes."""

    def __init__(self, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        if not character.lids:
            raise BadRequest("No lids are set up yet. Set up a first rig at Landmarks.")
        self.evaluator = evaluator
        self._there = {c.name for c in character.controls}
        self.eyes = [
            EyeGauge(character, pair, compiled, store, evaluator) for pair, compiled in zip(character.lids, evaluator.rig.lids, strict=True)
        ]

    def measure(
        self,
        values: Mapping[str, float],
        closings: Sequence[float] = CLOSINGS,
        gazes: Sequence[tuple[float, float]] = GAZES,
        exact: bool = False,
    ) -> Board:
        """The board with what `values` of all controls do to the skin beside (a smile, a brow); `exact` for a hand that rests."""
        found: dict[str, list[Cell]] = {}
        for moment in self.moments(values, closings, gazes, exact):
            found.setdefault(moment.gauge.side, []).append(self._cell(moment))
        return Board(tuple(closings), tuple(gazes), tuple(c for cells in found.values() for c in cells))

    def moments(
        self,
        values: Mapping[str, float],
        closings: Sequence[float] = CLOSINGS,
        gazes: Sequence[tuple[float, float]] = GAZES,
        exact: bool = False,
    ) -> Iterator[Moment]:
        """Every eye at every closing and gaze. What both eyes share is posed once."""
        for closing in closings:
            for height, outward in gazes:
                for leftward in {eye.outward * outward for eye in self.eyes}:
                    turn = rotation(np.array([-height, leftward, 0.0]))
                    posed = self.evaluator.lids_at(values, closing, turn)
                    for eye in self.eyes:
                        if eye.outward * outward == leftward:
                            yield Moment(eye, closing, (height, outward), eye.read(posed, turn, exact))

    def pose(self, eye: EyeGauge, closing: float, gaze: tuple[float, float]) -> dict[str, float]:
        """Values of those controls of a usual set that are there, away from rest, that bring an eye to a closing and a gaze."""
        blink = next((name for name in (f"blink_{eye.side}", "blink") if name in self._there), "")
        asked = {"gaze_height": gaze[0], "gaze_across": eye.outward * gaze[1], blink: closing}
        return {name: float(value) for name, value in asked.items() if name in self._there and value}

    def _cell(self, moment: Moment) -> Cell:
        eye, reading, limits = moment.gauge, moment.reading, moment.gauge.limits
        depth, deepest = reading.deepest
        widest = int(reading.off.argmax())
        overlap, gap = depth * CM_TO_MM, max(0.0, float(reading.off[widest])) * CM_TO_MM
        readings: list[tuple[float, Measure, int]] = [
            (share_of(overlap, limits.overlap), "overlap", deepest),
            (share_of(gap, limits.gap), "gap", int(eye.margin[widest])),
        ]
        slit = None
        if moment.closing >= 1:
            k = int(reading.slit.argmax())
            slit = float(reading.slit[k]) * CM_TO_MM
            readings.append((share_of(slit, limits.closed_gap), "slit", int(eye.margins[0][k])))
        excess, worst, vertex = max(readings)
        values = self.pose(eye, moment.closing, moment.gaze)
        return Cell(eye.side, moment.closing, *moment.gaze, overlap, gap, slit, excess, worst, vertex, values)


def share_of(measured: float, limit: float | None) -> float:
    """What was measured as a share of its limit; nothing where there is none."""
    return measured / limit if limit else 0.0
