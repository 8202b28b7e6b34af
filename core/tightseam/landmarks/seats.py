"""The eye seats of a head, and what would make them sit better."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.optimize import brentq

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.kept import remembered
from tightseam.document.model import Character, Side
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats, Ints
from tightseam.head.found import FoundHead, Piece, found_head
from tightseam.landmarks.eye_seat import EyeBall, fit_eyeball
from tightseam.landmarks.eye_shape import drawn_to_ball, lids_raised
from tightseam.landmarks.gaze_sweep import Contact, GazeSweep, LidPatch

MOST_BACK = 0.5  # cm an eye is proposed to be pushed back
MOST_RAISED = 0.3  # cm that lids are proposed to be raised
MOST_SHRINK = 0.15  # of its size
FINE_ENOUGH = 1e-3  # cm, of the root
OFF_PIVOT = 0.05  # mm from where a pivot is worth moving
OFF_BALL = 0.05  # mm from where an eye is worth drawing to its ball


@dataclass(frozen=True)
class Proposal:
    """An edit of one eye: the worst contact of the sweep before and after it (mm of overlap, negative for clearance), and how
    far the farthest vertex moves (mm)."""

    text: str
    edit: str
    params: dict[str, object]
    before: float
    after: float
    moves: float


@dataclass(frozen=True)
class Cut:
    """A flat cut through the worst contact and the gaze axis, in mm about the eye's centre: x forward, y away from the axis."""

    skin: list[Floats]
    eye: list[Floats]
    contact: Floats


@dataclass(frozen=True)
class EyeSeat:
    """How one eye sits in its lids. `pivot` is what it turns about: its own, else the centre of its ball."""

    piece: Piece
    side: str
    ball: EyeBall
    pivot: Floats
    own_pivot: bool
    triangles: Ints
    lids: LidPatch
    axes: Floats

    @property
    def part(self) -> str:
        return self.piece.part.name

    @property
    def pivot_error(self) -> float:
        return self.ball.pivot_error(self.pivot)

    @cached_property
    def sweep(self) -> GazeSweep:
        """The eye as it is."""
        return self.swept(self.piece.points, self.pivot)

    def swept_under(self, skin: Floats) -> GazeSweep:
        """The same eye under a skin with other points (N, 3)."""
        lids = LidPatch(skin, self.lids.skin_triangles, self.ball.centre, self.ball.radius, self.axes[2])
        return GazeSweep(self.piece.points, self.triangles, self.pivot, lids, self.axes)

    def swept(self, points: Floats, pivot: Floats) -> GazeSweep:
        """The same eye with other points (N, 3) about another pivot (3,), in the same lids."""
        return GazeSweep(points, self.triangles, pivot, self.lids, self.axes)


def find_seats(head: FoundHead) -> list[EyeSeat]:
    """The seats of the eyes that were found, left before right; none without a skin."""
    if head.skin is None or head.frame is None:
        return []
    axes, skin = head.frame.axes, head.skin
    found = []
    for side in ("L", "R"):
        if side not in head.balls:
            continue
        piece = head.balls[side].piece
        ball = fit_eyeball(piece.points, piece.polygons, axes[2])
        own = piece.part.pivot
        lids = LidPatch(skin.points, skin.surface.triangles, ball.centre, ball.radius, axes[2])
        pivot = ball.centre if own is None else np.array(own)
        found.append(EyeSeat(piece, side, ball, pivot, own is not None, piece.surface.triangles, lids, axes))
    return found


@derived("parts")
def seats_of(character: Character, store: ArrayStore) -> list[EyeSeat]:
    """The seats of the eyes of a character."""
    return find_seats(found_head(character, store))


@remembered(list[Proposal], "parts")
def proposals(character: Character, store: ArrayStore, side: Side) -> list[Proposal]:
    """What is proposed for the eye of a side, each found by many sweeps; none where there is no such eye."""
    seat = next((s for s in seats_of(character, store) if s.side == side), None)
    return [] if seat is None else propose(seat)


def propose(seat: EyeSeat) -> list[Proposal]:
    """Edits of one eye, each by itself, that bring it closer to its ball or out of its lids."""
    points, ball, parts = seat.piece.points, seat.ball, {"parts": [seat.part]}
    before = seat.sweep.worst.depth
    found = []
    if seat.own_pivot and seat.pivot_error > OFF_PIVOT:
        after = seat.swept(points, ball.centre).worst.depth
        found.append(Proposal("Pivot to the centre", "eye.centre_pivot", {**parts}, before, after, 0.0))
    if ball.roundness > OFF_BALL:
        drawn = drawn_to_ball(points, ball)
        after = seat.swept(drawn, ball.centre).worst.depth
        moves = float(np.linalg.norm(drawn - points, axis=1).max()) * CM_TO_MM
        found.append(Proposal("Draw it to the ball", "eye.draw_to_ball", {**parts}, before, after, moves))
    if before > 0:
        found += [p for p in (_pushed(seat), _shrunk(seat), _raised(seat)) if p is not None]
    return found


def _pushed(seat: EyeSeat) -> Proposal | None:
    def depth(back: float) -> float:
        shift = -back * seat.axes[2]
        return seat.swept(seat.piece.points + shift, seat.pivot + shift).worst.depth

    back = _least(depth, MOST_BACK)
    if back is None:
        return None
    params: dict[str, object] = {"parts": [seat.part], "back_mm": round(back * CM_TO_MM, 2)}
    return Proposal(
        f"Push it back by {back * CM_TO_MM:.2f} mm", "eye.push_back", params, seat.sweep.worst.depth, depth(back), back * CM_TO_MM
    )


def _shrunk(seat: EyeSeat) -> Proposal | None:
    offset = seat.piece.points - seat.pivot

    def depth(less: float) -> float:
        return seat.swept(seat.pivot + offset * (1 - less), seat.pivot).worst.depth

    less = _least(depth, MOST_SHRINK)
    if less is None:
        return None
    moves = less * float(np.linalg.norm(offset, axis=1).max()) * CM_TO_MM
    params: dict[str, object] = {"parts": [seat.part], "less": round(less, 4)}
    return Proposal(f"Shrink it by {less:.1%}", "eye.shrink", params, seat.sweep.worst.depth, depth(less), moves)


def _raised(seat: EyeSeat) -> Proposal | None:
    ball, forward, skin = seat.ball, seat.axes[2], seat.lids.points

    def depth(by: float) -> float:
        return seat.swept_under(lids_raised(skin, ball.centre, ball.radius, forward, by)).worst.depth

    by = _least(depth, MOST_RAISED)
    if by is None:
        return None
    params: dict[str, object] = {"parts": [seat.part], "by_mm": round(by * CM_TO_MM, 2)}
    return Proposal(f"Raise its lids by {by * CM_TO_MM:.2f} mm", "eye.raise_lids", params, seat.sweep.worst.depth, depth(by), by * CM_TO_MM)


def _least(depth: Callable[[float], float], most: float) -> float | None:
    """The smallest amount after which no gaze overlaps, rounded up; None where even the most is not enough."""
    if depth(most) > 0:
        return None
    root = float(brentq(depth, 0.0, most, xtol=FINE_ENOUGH))
    return min(most, root + FINE_ENOUGH)


def cut_through(head: FoundHead, seat: EyeSeat, contact: Contact) -> Cut:
    """The cut through the gaze axis and a contact, with the eye turned to its gaze."""
    assert head.skin is not None
    centre, forward = seat.ball.centre, seat.ball.gaze
    offset = contact.point - centre
    aside = offset - (offset @ forward) * forward
    across = aside / max(float(np.linalg.norm(aside)), 1e-9)
    plane = Plane(centre, np.cross(forward, across))
    turn = seat.sweep.turn(contact.across, contact.height)
    eye = (seat.piece.points - seat.pivot) @ turn.T + seat.pivot
    near = 1.9 * seat.ball.radius

    def flat(points: Floats) -> Floats:
        return np.stack([(points - centre) @ forward, (points - centre) @ across], axis=1) * CM_TO_MM

    skin = [line.points for line in section(head.skin.points, head.skin.surface.triangles, plane)]
    ball = section(eye, seat.triangles, plane)
    return Cut(
        [flat(run) for line in skin for run in _runs(line, np.linalg.norm(line - centre, axis=1) < near)],
        [flat(line.points) for line in ball],
        flat(contact.point[None])[0],
    )


def _runs(line: Floats, keep: Floats) -> list[Floats]:
    """Pieces of a line where `keep` (K,) bool holds."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], keep.astype(int), [0]])))
    return [line[a:b] for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a > 1]
