"""Where something was measured."""

from __future__ import annotations

from tightseam.geometry.types import Floats
from tightseam.seams.reading import Place


def place(part: str, vertex: int, point: Floats) -> Place:
    return Place(part, int(vertex), (float(point[0]), float(point[1]), float(point[2])))
