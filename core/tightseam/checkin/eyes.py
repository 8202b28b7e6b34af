"""Checks of the eyeballs: round, and turning about their middle."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.checkin.check import Check, Mark, place
from tightseam.checkin.subject import Subject
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Repair
from tightseam.head.found import Piece
from tightseam.landmarks.eye_seat import EyeBall, fit_eyeball


def eye_checks(subject: Subject) -> Iterator[Check]:
    forward = subject.frame.axes[2] if subject.frame is not None else np.array([0.0, 0.0, 1.0])
    for side in ("L", "R"):
        if side not in subject.balls:
            continue
        piece = subject.balls[side].piece
        ball = fit_eyeball(piece.points, piece.polygons, forward)
        yield _roundness(subject, side, piece, ball)
        if piece.part.pivot is not None:
            yield _pivot(subject, side, piece, ball.pivot_error(np.array(piece.part.pivot)))


def _roundness(subject: Subject, side: str, piece: Piece, ball: EyeBall) -> Check:
    miss = float(ball.miss[ball.worst])
    wrong = ball.roundness > subject.limits["eye_roundness"]
    return Check(
        f"eye_round_{side}", f"Eyeball round {side}", "eyes", "fault" if wrong else "fine",
        f"out of round by {ball.roundness:.2f} mm, {ball.rms:.2f} mm RMS; radius {ball.radius * CM_TO_MM:.1f} mm",
        "An eye that is not round pushes through the lids when it turns, whatever is done to the lids.",
        "Draw it towards the ball at Landmarks, or ask for a round eye; iris and cornea may stay as they are.",
        ("eye_roundness",), place(piece.part.name, piece.vertices) if wrong else (),
        (Mark(piece.part.name, int(piece.vertices[ball.worst]), f"{miss:+.2f} mm"),) if wrong else (),
    )  # fmt: skip


def _pivot(subject: Subject, side: str, piece: Piece, off: float) -> Check:
    wrong = off > subject.limits["eye_pivot"]
    name = piece.part.name
    return Check(
        f"eye_pivot_{side}", f"Pivot of the eye {side}", "eyes", "fault" if wrong else "fine", f"{off:.1f} mm from the centre of the ball",
        "An eye that turns about a point beside its centre swings: it leaves the lids on one side and cuts them on the other.",
        "Move the pivot to the centre.",
        ("eye_pivot",), place(name, piece.vertices) if wrong else (),
        repairs=(Repair("Pivot to the centre", "eye.centre_pivot", {"parts": [name]}),) if wrong else (),
    )  # fmt: skip
