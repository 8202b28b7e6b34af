"""Polygons of mixed size, kept as they came."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.geometry.types import Ints


@dataclass(frozen=True)
class Polygons:
    """Polygon soup in compressed rows: `sizes` (F,) and `corners` (sum of sizes,), both int32."""

    sizes: Ints
    corners: Ints

    @staticmethod
    def from_lists(polygons: Iterable[Sequence[int]]) -> Polygons:
        lists = [list(p) for p in polygons]
        sizes = np.array([len(p) for p in lists], np.int32)
        corners = np.array([v for p in lists for v in p], np.int32)
        return Polygons(sizes, corners)

    @property
    def starts(self) -> Ints:
        """First corner of each polygon, shape (F,)."""
        return np.concatenate([[0], np.cumsum(self.sizes)[:-1]]).astype(np.int64)

    @property
    def face_of_corner(self) -> Ints:
        return np.repeat(np.arange(len(self.sizes)), self.sizes)

    @property
    def next_corner(self) -> Ints:
        """Index of the corner that follows each corner within its polygon."""
        following = np.arange(len(self.corners)) + 1
        following[self.starts + self.sizes - 1] = self.starts
        return following

    @property
    def quads(self) -> Ints:
        """The polygons of four corners, (Q, 4)."""
        return self.corners[self.starts[self.sizes == 4][:, None] + np.arange(4)]

    def __len__(self) -> int:
        return len(self.sizes)

    def lists(self) -> list[list[int]]:
        return [part.tolist() for part in np.split(self.corners, np.cumsum(self.sizes)[:-1])] if len(self) else []

    def renumbered(self, new_index: Ints) -> Polygons:
        """The same polygons after vertex v became `new_index[v]`."""
        return Polygons(self.sizes, np.asarray(new_index)[self.corners].astype(np.int32))
