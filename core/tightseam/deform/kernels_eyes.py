"""The compiled inner loops of eyes: how they are turned, and how far their lids follow."""

from __future__ import annotations

import numpy as np
from numba import njit

from tightseam.deform.lid_motion import PER_DEGREE, WIDEST


@njit(cache=True, nogil=True)
def turn_eyes(turns, at, matrices, head, carriers, centres):  # type: ignore[no-untyped-def]
    """Rotations `turns` (E, 3, 3) and centres `at` (E, 3) of eyes in the space of the neutral head, each carried by one bone, `carriers`
    (E,), from `matrices` (B, 4, 4) that are rigid; `head` is the number of the head's bone, -1 for none."""
    for e in range(carriers.size):
        own = matrices[carriers[e]]
        for i in range(3):
            for j in range(3):
                turns[e, i, j] = own[i, j]
            at[e, i] = own[i, 3]
        if head >= 0:
            of = matrices[head]
            for i in range(3):
                for j in range(3):
                    turns[e, i, j] = of[0, i] * own[0, j] + of[1, i] * own[1, j] + of[2, i] * own[2, j]
                at[e, i] = of[0, i] * (own[0, 3] - of[0, 3]) + of[1, i] * (own[1, 3] - of[1, 3]) + of[2, i] * (own[2, 3] - of[2, 3])
        for i in range(3):
            for j in range(3):
                at[e, i] += turns[e, i, j] * centres[e, j]


@njit(cache=True, nogil=True)
def move_lids(closing, slide, asked, turns, eyes, outward, tables):  # type: ignore[no-untyped-def]
    """Closings and slides (2 E,) of all lids from how far each control closes them, `asked` (2 E, C), and the turns (F, 3, 3) of their
    `eyes` (E,).

    `outward` (E,) is 1 where the outer corner lies to the left, else -1; `tables` (2 E, 3, T) what closes by height and across, and slides.
    """
    for e in range(eyes.size):
        x, y, z = turns[eyes[e], 0, 2], turns[eyes[e], 1, 2], turns[eyes[e], 2, 2]
        height = np.degrees(np.arcsin(min(max(y, -1.0), 1.0)))
        across = outward[e] * np.degrees(np.arctan2(x, z))
        for lid in range(2 * e, 2 * e + 2):
            followed = _read(tables[lid, 0], height) + _read(tables[lid, 1], across)
            openness = 1.0 - min(followed, 1.0)
            for c in range(asked.shape[1]):
                openness *= 1.0 - min(asked[lid, c], 1.0)
            if openness > 1.0:
                openness = 1.0 - WIDEST * np.expm1(-(openness - 1.0) / WIDEST)
            closing[lid] = 1.0 - openness
            slide[lid] = _read(tables[lid, 2], across)


@njit(cache=True, nogil=True)
def _read(table, degrees):  # type: ignore[no-untyped-def]
    place = min(max((degrees + 90.0) * PER_DEGREE, 0.0), table.size - 1.0)
    k = min(int(place), table.size - 2)
    return table[k] + (table[k + 1] - table[k]) * (place - k)
