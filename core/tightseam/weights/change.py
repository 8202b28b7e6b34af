"""Changes of weights (K, B): vertices by bones. Bones that are not `free` (B,) keep theirs to the bit."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix

from tightseam.geometry.types import Bools, Floats, Ints

ROUNDING = 5e-7  # of a total
NOTHING = 1e-12  # of weight: what is less cannot be shared out in proportion


def given(rows: Floats, column: int, wanted: Floats, free: Bools) -> tuple[Floats, Bools]:
    """One bone's weights set to `wanted` (K,), the other free bones giving or taking in proportion so that totals are 1.

    Also says (K,) where that could not be: held bones leave less room, or no free bone is there to take what is left.
    """
    rows = rows.copy()
    others = free.copy()
    others[column] = False
    room = 1 - rows[:, ~free & (np.arange(rows.shape[1]) != column)].sum(axis=1)
    value = np.clip(wanted, 0, np.maximum(room, 0))
    shared = rows[:, others].sum(axis=1)
    value = np.where(shared > NOTHING, value, np.maximum(room, 0))
    scale = np.where(shared > NOTHING, (room - value) / np.where(shared > NOTHING, shared, 1), 0)
    rows[:, others] *= np.maximum(scale, 0)[:, None]
    rows[:, column] = value
    return rows, np.abs(value - wanted) > 1e-9


def normalised(rows: Floats, free: Bools) -> Floats:
    """Free bones scaled so that totals are 1; where no free bone has any weight nothing is scaled."""
    rows = rows.copy()
    held, shared = rows[:, ~free].sum(axis=1), rows[:, free].sum(axis=1)
    scale = np.where(shared > NOTHING, np.maximum(1 - held, 0) / np.where(shared > NOTHING, shared, 1), 1)
    rows[:, free] *= scale[:, None]
    return rows


def remapped(values: Floats, low: float, high: float, gamma: float, to_low: float, to_high: float) -> Floats:
    """Values 0..1 stretched from `low`..`high` to `to_low`..`to_high`; a gamma above 1 lifts the middle."""
    t = np.clip((values - low) / max(high - low, 1e-9), 0, 1) ** (1 / gamma)
    return np.asarray(to_low + (to_high - to_low) * t)


def sharpened(rows: Floats, free: Bools, amount: float) -> Floats:
    """The largest free weights take from the smaller ones: proportions to the power of 1 + amount."""
    rows = rows.copy()
    part = rows[:, free]
    total = part.sum(axis=1, keepdims=True)
    share = np.divide(part, total, out=np.zeros_like(part), where=total > NOTHING) ** (1 + amount)
    again = share.sum(axis=1, keepdims=True)
    rows[:, free] = np.divide(share * total, again, out=part.copy(), where=again > NOTHING)
    return rows


def smoothed(rows: Floats, chosen: Ints, average: csr_matrix, strength: float, steps: int) -> Floats:
    """`rows` (K, B) of a patch with its surroundings; the `chosen` ones (C,) go towards what `average` (C, K; rows sum to 1) makes of
    their neighbours, `strength` of the way in each of `steps`."""
    rows = rows.copy()
    for _ in range(steps):
        rows[chosen] = (1 - strength) * rows[chosen] + strength * (average @ rows)
    return rows


def with_free(before: Floats, after: Floats, free: Bools) -> Floats:
    """`after` for the free bones, scaled to what the others leave of `before`'s totals."""
    result = np.where(free, after, before)
    wanted = before[:, free].sum(axis=1)
    have = result[:, free].sum(axis=1)
    scale = np.where(have > NOTHING, wanted / np.where(have > NOTHING, have, 1), 1)
    # totals that differ by single precision alone are left, so that doing it again changes nothing
    result[:, free] *= np.where(np.abs(scale - 1) > ROUNDING, scale, 1)[:, None]
    return np.asarray(result)


def refilled(before: Floats, made: Floats, free: Bools) -> Floats:
    """New weights `made` (K, B) for the free bones, scaled to what the held ones leave of 1; rows of zeros stay zeros."""
    result = np.where(free, made, before)
    room = np.maximum(1 - before[:, ~free].sum(axis=1), 0)
    have = result[:, free].sum(axis=1)
    result[:, free] *= np.where(have > NOTHING, room / np.where(have > NOTHING, have, 1), 1)[:, None]
    return np.asarray(result)


def evened(rows: Floats, groups: Ints) -> Floats:
    """Each row replaced by the mean of its group; `groups` (K,) number them from 0."""
    count = np.bincount(groups).astype(float)
    total = np.zeros((len(count), rows.shape[1]))
    np.add.at(total, groups, rows)
    return np.asarray((total / np.maximum(count, 1)[:, None])[groups])


def moved(rows: Floats, source: int, target: int, share: float) -> Floats:
    """A share of one bone's weight given to another."""
    rows = rows.copy()
    taken = rows[:, source] * share
    rows[:, source] -= taken
    rows[:, target] += taken
    return rows


def capped(rows: Floats, free: Bools, most: int) -> Floats:
    """At most `most` bones a vertex: held ones stay, of the free ones the largest, one at least; what goes is shared out among those."""
    rank = np.where(free, rows, np.where(rows > 0, np.inf, -1.0))
    place = np.argsort(np.argsort(-rank, axis=1, kind="stable"), axis=1)
    largest = np.where(free, rows, -1.0).argmax(axis=1)[:, None] == np.arange(rows.shape[1])
    gone = free & (place >= most) & ~largest
    return _without(rows, gone, free)


def at_most(rows: Floats, most: int) -> Floats:
    """The rows (K, B) with at most `most` bones each, of which any may go; those that have no more stay to the bit."""
    crowded = (rows > 0).sum(axis=1) > most
    if not crowded.any():
        return rows
    few = rows.copy()
    few[crowded] = capped(rows[crowded], np.ones(rows.shape[1], bool), most)
    return few


def cleaned(rows: Floats, free: Bools, below: float | Floats) -> Floats:
    """Free weights under `below` (one, or (K, 1)) taken away and shared out among the others; a vertex keeps its largest free one."""
    largest = np.where(free, rows, 0).max(axis=1, keepdims=True)
    gone = free & (rows < below) & (rows < largest)
    return _without(rows, gone, free)


def _without(rows: Floats, gone: Bools, free: Bools) -> Floats:
    """Weights (K, B) without those that are `gone` (K, B), which are shared out among the other free ones of their vertex."""
    before = rows[:, free].sum(axis=1)
    rows = np.where(gone, 0, rows)
    left = rows[:, free].sum(axis=1)
    rows[:, free] *= np.where(left > NOTHING, before / np.where(left > NOTHING, left, 1), 1)[:, None]
    return rows
