"""How far lids must stand off the eye while they close, for their edges and faces to clear it too."""

from __future__ import annotations

import numpy as np

from tightseam.deform import plain
from tightseam.deform.lids import LidTurning
from tightseam.deform.meshes import rows_among
from tightseam.geometry.rotation import rotation
from tightseam.geometry.samples import surface_samples
from tightseam.geometry.types import Floats, Ints
from tightseam.lids.eye_relief import ReliefMap, apply_relief, clearance_of

SAFETY = 0.006  # cm that edges and faces of a lid keep from the eye
ROUNDS = 16
CLOSINGS = (0.25, 0.5, 0.75, 1.0)
GAZES = [(height, across) for height in (-30, -15, 0, 12, 25) for across in (-35, -17, 0, 17, 35)]  # degrees up and to the left


def swell_to_clear(points: Floats, triangles: Ints, turning: LidTurning, relief: ReliefMap, profile: Floats) -> Floats:
    """Swell (K,) in cm of the relief's vertices, for the skin in its neutral: `points` (N, 3) and `triangles`.

    It is the least found in a few rounds with which vertices, edges and faces of the lids clear the eye in all gazes and at four
    closings, and with which both margins, closed, stand off the eye alike. The lining is stretched when a lid closes, and a long
    straight edge cuts a round cornea between two vertices that clear it.
    """
    turns = [rotation(np.array([-height, across, 0.0])) for height, across in GAZES]
    centre = turning.arc.centre
    posed = [(k * (2 - k), _closed(turning, points, k)) for k in CLOSINGS]
    row_of = rows_among(relief.vertices, len(points))
    inside = np.zeros(len(points), bool)
    inside[relief.vertices] = relief.amount > 0.99
    patch = triangles[inside[triangles].all(axis=1)]
    mix, owners = surface_samples(patch, len(points))
    rows = row_of[owners]
    swell = np.zeros(len(relief.vertices))
    for _ in range(ROUNDS):
        _level_margins(points, turning, relief, row_of, swell)
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


def _closed(turning: LidTurning, points: Floats, closing: float) -> Floats:
    """The skin (N, 3) with both lids closed by 0..1."""
    moved = points.copy()
    turning.turn(plain, moved, np.full(2, closing), np.zeros(2))
    return moved


def _level_margins(points: Floats, turning: LidTurning, relief: ReliefMap, row_of: Ints, swell: Floats) -> None:
    """Raise the swell along both margins until they stand off the eye alike where they meet."""
    lines = [row_of[line] for line in turning.margins]
    places = [np.maximum.accumulate(turning.arc.place(points[line])[0]) for line in turning.margins]
    stand = [(relief.clearance + swell)[rows] for rows in lines]
    for k, rows in enumerate(lines):
        partner = np.interp(places[k], places[1 - k], stand[1 - k])
        swell[rows] += np.maximum(partner - stand[k], 0)
