"""The lid board: every closing against every gaze, with the worst overlap and gap of each eye."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.lids import CompiledLids
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import points as part_points
from tightseam.document.model import Character, Lids
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.rotation import rotation
from tightseam.geometry.samples import surface_samples
from tightseam.geometry.types import Floats, Ints
from tightseam.lids.relief import clearance_of
from tightseam.lids.tune import relief_of
from tightseam.seams.contact import across
from tightseam.seams.starting_set import LID

CLOSINGS = (0.0, 0.2, 0.4, 0.6, 0.8, 1.0)
GAZES = ((0, 0), (20, 0), (-25, 0), (0, 30), (0, -30))  # degrees up, and towards the outer corner of each eye


@dataclass(frozen=True)
class Cell:
    """One eye at a closing and a gaze (degrees up, and towards the outer corner): in mm the deepest overlap of lids and eye, the widest
    gap between a margin and the eye and, closed, between the margins. `excess` is the worst of these as a share of its limit;
    `vertex` of the skin is next to it."""

    side: str
    closing: float
    height: float
    outward: float
    overlap: float
    gap: float
    slit: float | None
    excess: float
    vertex: int

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


class LidBoard:
    """Measures the lids of one character. Overlaps are read along rays from the eye's centre, in a table of how far it reaches: that is
    fast enough to follow a hand, and shows a contact wherever the seams' exact distance does."""

    def __init__(self, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        if not character.lids:
            raise BadRequest("No lids are set up yet. Set up a first rig at Landmarks.")
        self.evaluator = evaluator
        self._eyes = [
            _EyeGauge(character, pair, compiled, store, evaluator) for pair, compiled in zip(character.lids, evaluator.lids, strict=True)
        ]

    def measure(
        self,
        values: Mapping[str, float],
        closings: Sequence[float] = CLOSINGS,
        gazes: Sequence[tuple[float, float]] = GAZES,
    ) -> Board:
        """The board with what `values` of all controls do to the skin beside (a smile, a brow)."""
        found: dict[str, list[Cell]] = {}
        for closing in closings:
            for height, outward in gazes:
                for leftward in {eye.outward * outward for eye in self._eyes}:
                    turn = rotation(np.array([-height, leftward, 0.0]))
                    posed = self.evaluator.lids_at(values, closing, turn)
                    for eye in self._eyes:
                        if eye.outward * outward == leftward:
                            found.setdefault(eye.side, []).append(eye.cell(posed, turn, closing, height, outward))
        return Board(tuple(closings), tuple(gazes), tuple(c for cells in found.values() for c in cells))


class _EyeGauge:
    def __init__(self, character: Character, pair: Lids, compiled: CompiledLids, store: ArrayStore, evaluator: Evaluator) -> None:
        self.side, self.outward = pair.side, compiled.outward
        self._rows, self._eye = evaluator.meshes.rows(pair.skin), compiled.eye
        relief = relief_of(character, pair)
        near = np.asarray(store.get(pair.vertices if relief is None else relief.vertices))
        count = self._rows.stop - self._rows.start
        inside = np.zeros(count, bool)
        inside[near] = True
        triangles = evaluator.meshes.part_triangles[evaluator.meshes.names.index(pair.skin)]
        self._mix, owners = surface_samples(triangles[inside[triangles].all(axis=1)], count)
        self._owner: Ints = owners[:, 0]
        self._margins = [np.asarray(store.get(key)) for key in (pair.upper_margin, pair.lower_margin)]
        rest = part_points(character, store, pair.skin)
        self._home = 1.0 if self._sides(rest)[1].sum() >= 0 else -1.0
        self._limits = next((s.limits for s in character.seams if s.name in pair.names), LID)

    def _sides(self, skin: Floats) -> tuple[Floats, Floats]:
        return across(skin[self._margins[0]], skin[self._margins[1]], self._eye.centre)

    def cell(self, posed: Floats, turn: Floats, closing: float, height: float, outward: float) -> Cell:
        skin = posed[self._rows]
        stands = clearance_of(self._mix @ skin, self._eye.profile, self._eye.centre, turn)
        deepest = int(stands.argmin())
        overlap = max(0.0, -float(stands[deepest])) * CM_TO_MM
        margin = np.concatenate(self._margins)
        off = clearance_of(skin[margin], self._eye.profile, self._eye.centre, turn)
        widest = int(off.argmax())
        gap = max(0.0, float(off[widest])) * CM_TO_MM
        readings = [
            (_share(overlap, self._limits.overlap), int(self._owner[deepest])),
            (_share(gap, self._limits.gap), int(margin[widest])),
        ]
        slit = None
        if closing >= 1:
            apart, side = self._sides(skin)
            apart = np.where(side == self._home, apart, 0.0)  # margins that pass each other leave no opening
            k = int(apart.argmax())
            slit = float(apart[k]) * CM_TO_MM
            readings.append((_share(slit, self._limits.closed_gap), int(self._margins[0][k])))
        excess, vertex = max(readings)
        return Cell(self.side, closing, height, outward, overlap, gap, slit, excess, vertex)


def _share(measured: float, limit: float | None) -> float:
    return measured / limit if limit else 0.0
