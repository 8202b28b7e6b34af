"""Straight lines between a few values that follow a path best."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats, Ints


def best_knots(cost: Floats, between: int) -> Ints:
    """Numbers of the samples, first and last included, that leave `between` others of a path of which `chord_errors` (M, M) are the
    `cost`, so that the farthest any point is from the straight way between two of them is the least; by dynamic programming over all
    choices (Bellman 1961)."""
    count = len(cost)
    best, came = cost[0].copy(), [np.zeros(count, int)]
    for _ in range(min(between, count - 2)):
        through = np.maximum(best[:, None], cost)  # to j by way of i
        came.append(through.argmin(axis=0))
        best = through.min(axis=0)
    knots = [count - 1]
    for before in came[::-1]:
        knots.append(int(before[knots[-1]]))
    return np.unique(knots)


def fitted(path: Floats, knots: Ints) -> Floats:
    """Values (S, K, 3) at `knots` (S,) of a path (M, K, 3) so that straight lines between them come nearest to all its samples, by least
    squares; the first and the last are those of the path."""
    at, inner = np.arange(len(path)), knots[1:-1]
    hats = np.stack([np.interp(at, knots, np.eye(len(knots))[k]) for k in range(len(knots))], axis=1)
    found = path[knots].astype(float)
    if len(inner):
        flat = path.reshape(len(path), -1)
        left = flat - hats[:, [0, -1]] @ flat[[0, -1]]
        found[1:-1] = np.linalg.lstsq(hats[:, 1:-1], left, rcond=None)[0].reshape(len(inner), *path.shape[1:])
    return found


def chord_errors(path: Floats) -> Floats:
    """How far (M, M) any of K points on a path (M, K, 3) through M samples at even times is from the straight way from sample i to a later
    j; nothing from a sample to itself, endless backwards."""
    count = len(path)
    error = np.full((count, count), np.inf)
    np.fill_diagonal(error, 0.0)
    for i in range(count - 1):
        error[i, i + 1] = 0.0
        ahead = np.ascontiguousarray(np.moveaxis(path[i:] - path[i], 2, 0), float)
        own = (ahead**2).sum(axis=0)
        for j in range(2, count - i):
            way = (np.arange(1, j) / j)[:, None]
            along = sum(x[1:j] * x[j] for x in ahead)
            squared = own[1:j] - 2 * way * along + way**2 * own[j]  # |a - w b|²
            error[i, i + j] = np.sqrt(max(float(squared.max(initial=0)), 0.0))
    return error
