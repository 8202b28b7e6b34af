"""Level cuts through a head: outlines at a height."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats
from tightseam.head.found import FoundHead


def outline_at(head: FoundHead, height: float) -> Floats | None:
    """The longest line (K, 3) that a level plane cuts out of the skin, in local coordinates; its ends joined where it is closed."""
    assert head.frame is not None
    assert head.skin is not None
    frame = head.frame
    lines = section(head.skin.points, head.skin.surface.triangles, Plane(frame.origin + height * frame.axes[1], frame.axes[1]))
    if not lines:
        return None
    return frame.local(lines[0].outline)


def front_of(outline: Floats, side: float) -> Floats | None:
    """The part of an outline on one side (+1 left, -1 right), from the middle of the face to the middle of the back."""
    start = np.flatnonzero(outline[:, 2] > np.median(outline[:, 2]))
    if not len(start):
        return None
    ring = outline[:-1] if np.allclose(outline[0], outline[-1]) else outline
    k = int((np.abs(ring[:, 0]) + np.where(ring[:, 2] > np.median(ring[:, 2]), 0, np.inf)).argmin())
    ring = np.roll(ring, -k, axis=0)
    if ring[min(3, len(ring) - 1), 0] * side < 0:
        ring = np.roll(ring[::-1], 1, axis=0)
    gone = np.flatnonzero(ring[1:, 0] * side < 0)
    gone = gone[gone > 3]
    return ring[: int(gone[0]) + 1] if len(gone) else ring
