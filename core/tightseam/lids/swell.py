"""How far lids must stand off the eye while they close, for their edges and faces to clear it too."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.deform import plain
from tightseam.deform.lids import LidArc, closed_line
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Lids
from tightseam.geometry.rotation import rotation
from tightseam.geometry.samples import surface_samples
from tightseam.geometry.types import Floats, Ints
from tightseam.lids.relief import ReliefMap, apply_relief, clearance_of

SAFETY = 0.006  # cm that edges and faces of a lid keep from the eye
ROUNDS = 16
CLOSINGS = (0.25, 0.5, 0.75, 1.0)
GAZES = [(height, across) for height in (-30, -15, 0, 12, 25) for across in (-35, -17, 0, 17, 35)]  # degrees up and to the left


@dataclass(frozen=True)
class Arc:
    """What closes about an eye, on the skin alone: the arguments of the loop that turns lids."""

    frame: LidArc
    vertices: Ints
    upper: Ints
    share: Floats
    margin_rows: Ints
    margin_start: int
    closed: Floats

    @classmethod
    def of(cls, points: Floats, pair: Lids, store: ArrayStore, centre: Floats) -> Arc:
        """That of `pair` on the skin's neutral `points` (N, 3), about an eye's `centre` (3,)."""
        vertices, of_upper, share, upper, lower = (
            np.asarray(store.get(key)) for key in (pair.vertices, pair.upper, pair.share, pair.upper_margin, pair.lower_margin)
        )
        frame = LidArc.through(centre, points[upper[0]], points[upper[-1]])
        row_of = np.zeros(len(points), int)
        row_of[vertices] = np.arange(len(vertices))
        closed = closed_line(frame, points[upper], points[lower], pair.line)
        return cls(frame, vertices, of_upper, share, row_of[np.concatenate([upper, lower])], len(upper), closed)

    @property
    def margins(self) -> tuple[Ints, Ints]:
        """Vertices of the upper and the lower margin, from the inner to the outer corner."""
        found = self.vertices[self.margin_rows]
        return found[: self.margin_start], found[self.margin_start :]

    def closed_by(self, points: Floats, closing: float) -> Floats:
        """The skin (N, 3) with both lids closed by 0..1."""
        moved = points.copy()
        f = self.frame
        turned = np.empty((len(self.vertices), 2))
        plain.close_lids(
            moved, self.vertices, self.upper, self.share, self.margin_rows, self.margin_start, self.closed, f.axes, f.centre, f.inner,
            f.length, np.full(2, closing), np.zeros(2), turned,
        )  # fmt: skip
        return moved


def swell_to_clear(points: Floats, triangles: Ints, arc: Arc, relief: ReliefMap, profile: Floats) -> Floats:
    """Swell (K,) in cm of the relief's vertices, for the skin in its neutral: `points` (N, 3) and `triangles`.

    It is the least found in a few rounds with which vertices, edges and faces of the lids clear the eye in all gazes and at four
    closings, and with which both margins, closed, stand off the eye alike. The lining is stretched when a lid closes, and a long
    straight edge cuts a round cornea between two vertices that clear it.
    """
    turns = [rotation(np.array([-height, across, 0.0])) for height, across in GAZES]
    centre = arc.frame.centre
    posed = [(k * (2 - k), arc.closed_by(points, k)) for k in CLOSINGS]
    row_of = np.full(len(points), -1)
    row_of[relief.vertices] = np.arange(len(relief.vertices))
    inside = np.zeros(len(points), bool)
    inside[relief.vertices] = relief.amount > 0.99
    patch = triangles[inside[triangles].all(axis=1)]
    mix, owners = surface_samples(patch, len(points))
    rows = row_of[owners]
    swell = np.zeros(len(relief.vertices))
    for _ in range(ROUNDS):
        _level_margins(points, arc, relief, row_of, swell)
        lacking = np.zeros_like(swell)
        for amount, closed in posed:
            swollen = ReliefMap(relief.vertices, relief.amount, relief.clearance + amount * swell, relief.settle)
            for turn in turns:
                stood = apply_relief(closed, swollen, profile, centre, turn)
                lack = np.maximum(SAFETY - clearance_of(mix @ stood, profile, centre, turn), 0) / amount
                for corner in rows.T:
                    np.maximum.at(lacking, corner, lack)
        if lacking.max() == 0:
            break
        swell += 1.2 * lacking
    return swell


def _level_margins(points: Floats, arc: Arc, relief: ReliefMap, row_of: Ints, swell: Floats) -> None:
    """Raise the swell along both margins until they stand off the eye alike where they meet."""
    lines = [row_of[line] for line in arc.margins]
    places = [np.maximum.accumulate(arc.frame.place(points[line])[0]) for line in arc.margins]
    stand = [(relief.clearance + swell)[rows] for rows in lines]
    for k, rows in enumerate(lines):
        partner = np.interp(places[k], places[1 - k], stand[1 - k])
        swell[rows] += np.maximum(partner - stand[k], 0)
