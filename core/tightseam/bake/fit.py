"""What a group of vertices does, sampled at the places of a grid, and how such places are chosen."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from tightseam.bake.activation_grid import Axis
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Sampled:
    """`offsets` (G, K, 3) in cm of the vertices `rows` (K,) of all parts at every place of a grid over `axes`, before the bones."""

    name: str
    axes: tuple[Axis, ...]
    rows: Ints
    offsets: Floats


def joined(batches: Iterable[Floats]) -> Floats:
    return np.concatenate(list(batches))


def spaced(low: float, high: float, step: float) -> Floats:
    """Values from low to high, with 0 among them, at most a `step` apart on either side of it."""
    low, high = min(low, 0.0), max(high, 0.0)
    below, above = (max(round(np.ceil(abs(end) / step - 1e-9)), 0) for end in (low, high))
    return np.unique([*np.linspace(low, 0, below + 1), *np.linspace(0, high, above + 1)])
