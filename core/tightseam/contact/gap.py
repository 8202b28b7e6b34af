"""How far two surfaces that do not overlap are apart, exactly."""

from __future__ import annotations

import numpy as np

from tightseam.contact.compiled import loops
from tightseam.contact.tree import PosedTree
from tightseam.geometry.types import Floats


def nearest_pair(one: PosedTree, other: PosedTree, reach: float) -> tuple[float, int, Floats]:
    """The distance of two surfaces that do not cross, cm, at most `reach`; the triangle of the first that is nearest, -1 where all are
    farther, and the point (3,) on it. By branch and bound over pairs of boxes."""
    point = np.zeros(3)
    distance, triangle = loops("gap").nearest_pair(reach, (*one.nodes, one.boxes), (*other.nodes, other.boxes), point)
    return float(distance), int(triangle), point
