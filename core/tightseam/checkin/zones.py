"""Regions of the skin about lids and lips, and the loops that run round them."""

from __future__ import annotations

from functools import cached_property

import numpy as np
from scipy.sparse.csgraph import connected_components

from tightseam.checkin.subject import Subject
from tightseam.geometry.geodesic import distance_from
from tightseam.geometry.loops import RingStepper
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.found import Piece
from tightseam.head.openings import Opening

LID_ZONE = 0.45  # eyeball radii of skin outside the margin that move with the lids
LIP_ZONE = 0.23  # of the mouth's width outside the lip line that move with the lips
MOST_RINGS = 12


class Zone:
    """The skin about an opening: distance (N,) in cm along the surface to its rim, and which side of it is `outside` (N,)."""

    def __init__(self, piece: Piece, opening: Opening, front: int, reach: float) -> None:
        self.piece = piece
        self.opening = opening
        self.reach = reach
        self._front = front

    @cached_property
    def distance(self) -> Floats:
        return distance_from(self.piece.surface.graph, self.opening.loop, 2 * self.reach)[0]

    @cached_property
    def outside(self) -> Bools:
        """True for vertices on the side of the rim on which the face lies; the rim itself included."""
        rest = np.ones(len(self.piece.points), bool)
        rest[self.opening.loop] = False
        index = np.flatnonzero(rest)
        label = connected_components(self.piece.surface.neighbours[index][:, index], directed=False)[1]
        result = ~rest
        result[index[label == label[np.searchsorted(index, self._front)]]] = True
        return result

    @cached_property
    def moving(self) -> Bools:
        """The outside within reach."""
        return np.asarray(self.outside & (self.distance <= self.reach))

    @cached_property
    def rings(self) -> list[Ints]:
        """Unbroken loops of quads from the rim outwards, the rim first; vertex k of each lies across from vertex k of the one before."""
        stepper = RingStepper(self.piece.polygons, len(self.piece.points))
        for loop in (self.opening.loop, self.opening.loop[::-1]):
            following = stepper.step(loop)
            if following is not None and self.outside[following].all():
                rings = [loop]
                while following is not None and len(rings) <= MOST_RINGS:
                    rings.append(following)
                    following = stepper.step(following)
                return rings
        return [self.opening.loop]


def front_vertex(subject: Subject) -> int:
    """The foremost vertex of the skin near the middle plane below the eyes: on the nose, outside of every opening."""
    assert subject.skin is not None
    assert subject.frame is not None
    local = subject.frame.local(subject.skin.points)
    half = max(float(np.abs(local[:, 0]).max()), 1e-9)
    return int(np.where(np.abs(local[:, 0]) < 0.2 * half, local[:, 2], -np.inf).argmax())


def lid_zones(subject: Subject) -> dict[str, Zone]:
    if subject.skin is None:
        return {}
    front = front_vertex(subject)
    return {side: Zone(subject.skin, o, front, LID_ZONE * subject.balls[side].radius) for side, o in subject.lids.items()}


def lip_zone(subject: Subject) -> Zone | None:
    if subject.skin is None or subject.lips is None:
        return None
    ends = subject.skin.points[subject.lips.upper[[0, -1]]]
    return Zone(subject.skin, subject.lips, front_vertex(subject), LIP_ZONE * float(np.linalg.norm(ends[1] - ends[0])))
