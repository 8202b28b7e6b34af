"""Shapes that come in by a table over the values of a few drivers: for what neither bones nor single shapes can hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from tightseam.geometry.types import Floats

ENOUGH = 0.01  # cm between what few shapes make of the places of a grid and what is there: more shapes would not show
NOISE = 1e-10  # of the largest variance: less is rounding
AT_ONCE = 4  # shapes between two looks at how far it is off


@dataclass(frozen=True)
class Axis:
    """A `driver` by name, and the values it is known at, `knots` (R,), ascending; beyond the ends it counts as there."""

    driver: str
    knots: Floats


@dataclass(frozen=True)
class ActivationGrid:
    """How far the shapes `targets` (T,) are in at every place of a grid over its `axes`: `weights` (G, T), the last axis running fastest.
    Between places they go straight along each axis (multilinear)."""

    name: str
    axes: tuple[Axis, ...]
    targets: tuple[str, ...]
    weights: Floats

    def at(self, values: Sequence[float] | Floats) -> Floats:
        """How far each shape is in, (T,), with the drivers at `values` (D,)."""
        return spread(self.axes, np.asarray(values, float)[None])[0] @ self.weights


def grid_places(axes: Sequence[Axis]) -> Floats:
    """All places of a grid, (G, D), the last axis running fastest."""
    return np.array(list(product(*(a.knots.tolist() for a in axes))))


def spread(axes: Sequence[Axis], values: Floats) -> Floats:
    """What each place of a grid counts at `values` (S, D), (S, G): each row adds up to 1."""
    found = np.ones((len(values), 1))
    for axis, own in zip(axes, values.T, strict=True):
        found = (found[:, :, None] * _hats(axis.knots, own)[:, None, :]).reshape(len(values), -1)
    return found


def few_targets(offsets: Floats, most: int) -> tuple[Floats, Floats, list[float]]:
    """Weights (G, T) and offsets (T, K, 3) of at most `most` shapes whose sums come nearest, in the mean of squares, to what is at the
    places of a grid, `offsets` (G, K, 3): its singular vectors (Eckart and Young 1936). No more of them than come within ENOUGH everywhere;
    no weight is beyond -1 to 1, and where nothing moves all are 0. The third is within how many cm it is with
    none, one, two, ... of them."""
    flat = offsets.reshape(len(offsets), -1).astype(np.float32)
    exact = flat.astype(float)
    values, vectors = np.linalg.eigh(exact.T @ exact if flat.shape[1] <= len(flat) else exact @ exact.T)
    order = np.argsort(-values)[: max(most, 0)]
    order = order[values[order] > NOISE * max(values.max(initial=0), NOISE)]
    basis = vectors[:, order] if flat.shape[1] <= len(flat) else _unit_rows(vectors[:, order].T @ flat).T
    basis = basis.astype(np.float32)
    left, used, off = flat.copy(), 0, [_farthest(flat)]
    while used < len(order) and off[-1] > ENOUGH:
        own = basis[:, used : used + AT_ONCE]
        left -= (left @ own) @ own.T
        used += own.shape[1]
        off += [off[-1]] * (own.shape[1] - 1) + [_farthest(left)]
    weights, shapes = flat @ basis[:, :used], basis[:, :used].T
    scale = np.abs(weights).max(axis=0, initial=1e-12)
    return weights / scale, (shapes * scale[:, None]).reshape(used, *offsets.shape[1:]), off


def _hats(knots: Floats, values: Floats) -> Floats:
    """How much each knot (R,) counts at values (S,), (S, R)."""
    if len(knots) == 1:
        return np.ones((len(values), 1))
    inside = np.clip(values, knots[0], knots[-1])
    before = np.clip(np.searchsorted(knots, inside, side="right") - 1, 0, len(knots) - 2)
    share = (inside - knots[before]) / (knots[before + 1] - knots[before])
    found, rows = np.zeros((len(values), len(knots))), np.arange(len(values))
    found[rows, before], found[rows, before + 1] = 1 - share, share
    return found


def _farthest(flat: Floats) -> float:
    """How long the longest of the offsets (G, 3 K) is."""
    each = flat.reshape(-1, 3)
    return float(np.sqrt(np.einsum("kc,kc->k", each, each).max(initial=0.0)))


def _unit_rows(rows: Floats) -> Floats:
    return np.asarray(rows / np.linalg.norm(rows, axis=1, keepdims=True))
