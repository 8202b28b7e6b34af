"""Points that are at one place, as one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Distinct:
    """The places (M, W) that points (N, W) are at, each once; `first` (M,) is the first point at each, `place` (N,) that of each point.

    A k-d tree over many points at one place looks at them one by one: trees that a damaged mesh may reach are built over places.
    """

    places: Floats
    first: Ints
    place: Ints

    @staticmethod
    def of(points: Floats) -> Distinct:
        rows = np.ascontiguousarray(points + 0.0)  # -0 is 0
        whole = rows.view(np.dtype((np.void, rows.itemsize * rows.shape[1]))).reshape(-1)
        _, first, place = np.unique(whole, return_index=True, return_inverse=True)
        return Distinct(points[first], first, place.reshape(-1))
