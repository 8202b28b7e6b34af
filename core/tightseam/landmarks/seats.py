"""The eye seats of a head, and what would make them sit better."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.types import Floats, Ints
from tightseam.landmarks.eye_seat import EyeBall, fit_eyeball
from tightseam.landmarks.eye_shape import drawn_to_ball
from tightseam.landmarks.found import FoundHead, Piece
from tightseam.landmarks.gaze_sweep import Contact, GazeSweep, LidPatch

MOST_BACK = 0.5  # cm an eye is proposed to be pushed back
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

    part: str
    side: str
    ball: EyeBall
    pivot: Floats
    own_pivot: bool
    sweep: GazeSweep

    @property
    def pivot_error(self) -> float:
        return self.ball.pivot_error(self.pivot)


class _Eye:
    """One eye with what its sweep needs."""

    def __init__(self, head: FoundHead, side: str) -> None:
        assert head.skin is not None
        assert head.frame is not None
        self.piece: Piece = head.balls[side].piece
        self.side = side
        self.axes = head.frame.axes
        self.forward = self.axes[2]
        self.triangles: Ints = triangulate(self.piece.points, self.piece.polygons)
        self.ball = fit_eyeball(self.piece.points, self.piece.polygons, self.forward)
        own = self.piece.part.pivot
        self.own_pivot = own is not None
        self.pivot = self.ball.centre if own is None else np.array(own)
        self.lids = LidPatch(head.skin.points, head.skin.surface.triangles, self.ball.centre, self.ball.radius, self.forward)

    def sweep(self, points: Floats | None = None, pivot: Floats | None = None) -> GazeSweep:
        return GazeSweep(
            self.piece.points if points is None else points, self.triangles, self.pivot if pivot is None else pivot, self.lids, self.axes
        )


def find_seats(head: FoundHead) -> list[EyeSeat]:
    """The seats of the eyes that were found, left before right; none without a skin."""
    if head.skin is None or head.frame is None:
        return []
    eyes = [_Eye(head, side) for side in ("L", "R") if side in head.balls]
    return [EyeSeat(e.piece.part.name, e.side, e.ball, e.pivot, e.own_pivot, e.sweep()) for e in eyes]


def propose(head: FoundHead, side: str) -> list[Proposal]:
    """Edits of one eye, each by itself, that bring it closer to its ball or out of its lids."""
    eye = _Eye(head, side)
    name, ball = eye.piece.part.name, eye.ball
    before = eye.sweep().worst.depth
    found = []
    if eye.own_pivot and ball.pivot_error(eye.pivot) > OFF_PIVOT:
        after = eye.sweep(pivot=ball.centre).worst.depth
        found.append(Proposal("Pivot to the centre", "eye.centre_pivot", {"parts": [name]}, before, after, 0.0))
    if ball.roundness > OFF_BALL:
        points = drawn_to_ball(eye.piece.points, ball)
        after = eye.sweep(points, ball.centre).worst.depth
        moves = float(np.linalg.norm(points - eye.piece.points, axis=1).max()) * 10
        found.append(Proposal("Draw it to the ball", "eye.draw_to_ball", {"parts": [name]}, before, after, moves))
    if before > 0:
        found += [p for p in (_pushed(eye, before), _shrunk(eye, before)) if p is not None]
    return found


def _pushed(eye: _Eye, before: float) -> Proposal | None:
    def depth(back: float) -> float:
        shift = -back * eye.forward
        return eye.sweep(eye.piece.points + shift, eye.pivot + shift).worst.depth

    back = _least(depth, MOST_BACK)
    if back is None:
        return None
    params: dict[str, object] = {"parts": [eye.piece.part.name], "back_mm": round(back * 10, 2)}
    return Proposal(f"Push it back by {back * 10:.2f} mm", "eye.push_back", params, before, depth(back), back * 10)


def _shrunk(eye: _Eye, before: float) -> Proposal | None:
    def depth(less: float) -> float:
        return eye.sweep(eye.pivot + (eye.piece.points - eye.pivot) * (1 - less)).worst.depth

    less = _least(depth, MOST_SHRINK)
    if less is None:
        return None
    moves = less * float(np.linalg.norm(eye.piece.points - eye.pivot, axis=1).max()) * 10
    params: dict[str, object] = {"parts": [eye.piece.part.name], "less": round(less, 4)}
    return Proposal(f"Shrink it by {less:.1%}", "eye.shrink", params, before, depth(less), moves)


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
    piece = head.balls[seat.side].piece
    eye = (piece.points - seat.pivot) @ turn.T + seat.pivot
    near = 1.9 * seat.ball.radius

    def flat(points: Floats) -> Floats:
        return np.stack([(points - centre) @ forward, (points - centre) @ across], axis=1) * 10

    skin = [line.points for line in section(head.skin.points, head.skin.surface.triangles, plane)]
    ball = section(eye, triangulate(piece.points, piece.polygons), plane)
    return Cut(
        [flat(run) for line in skin for run in _runs(line, np.linalg.norm(line - centre, axis=1) < near)],
        [flat(line.points) for line in ball],
        flat(contact.point[None])[0],
    )


def _runs(line: Floats, keep: Floats) -> list[Floats]:
    """Pieces of a line where `keep` (K,) bool holds."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], keep.astype(int), [0]])))
    return [line[a:b] for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a > 1]
