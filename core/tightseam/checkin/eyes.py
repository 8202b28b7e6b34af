"""Checks of the eyeballs: round, and turning about their middle."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.checkin.check import Check, Mark, Repair, place
from tightseam.checkin.subject import Subject
from tightseam.geometry.normals import unit
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.types import Floats
from tightseam.landmarks.found import Ball

CORNEA = 40.0  # degrees about the gaze that may bulge or be hollow


def eye_checks(subject: Subject) -> Iterator[Check]:
    forward = subject.frame.axes[2] if subject.frame is not None else np.array([0.0, 0.0, 1.0])
    for side in ("L", "R"):
        if side not in subject.balls:
            continue
        ball = subject.balls[side]
        yield _roundness(subject, side, ball, forward)
        if ball.piece.part.pivot is not None:
            yield _pivot(subject, side, ball, np.array(ball.piece.part.pivot))


def _roundness(subject: Subject, side: str, ball: Ball, forward: Floats) -> Check:
    piece = ball.piece
    used = np.isin(np.arange(len(piece.points)), piece.polygons.corners)
    sclera = used & (unit(piece.points - ball.centre) @ forward < np.cos(np.radians(CORNEA)))
    centre, radius = fit_sphere(piece.points[sclera]) if sclera.sum() >= 12 else (ball.centre, ball.radius)
    miss = np.where(sclera, np.linalg.norm(piece.points - centre, axis=1) - radius, 0.0) * 10
    worst = int(np.abs(miss).argmax())
    limit = subject.limits["eye_roundness"]
    wrong = abs(miss[worst]) > limit
    rms = float(np.sqrt((miss[sclera] ** 2).mean())) if sclera.any() else 0.0
    return Check(
        f"eye_round_{side}", f"Eyeball round {side}", "eyes", "fault" if wrong else "fine",
        f"off a ball by {abs(miss[worst]):.2f} mm at worst, {rms:.2f} mm RMS; radius {radius * 10:.1f} mm",
        "An eye that is no ball pushes through the lids when it turns, whatever is done to the lids.",
        "Draw it towards the ball at Landmarks, or ask for a round eye; iris and cornea may stay as they are.",
        ("eye_roundness",), place(piece.part.name, piece.vertices) if wrong else (),
        (Mark(piece.part.name, int(piece.vertices[worst]), f"{miss[worst]:+.2f} mm"),) if wrong else (),
    )  # fmt: skip


def _pivot(subject: Subject, side: str, ball: Ball, pivot: Floats) -> Check:
    off = float(np.linalg.norm(pivot - ball.centre)) * 10
    wrong = off > subject.limits["eye_pivot"]
    name = ball.piece.part.name
    return Check(
        f"eye_pivot_{side}", f"Pivot of the eye {side}", "eyes", "fault" if wrong else "fine", f"{off:.1f} mm from the centre of the ball",
        "An eye that turns about a point beside its centre swings: it leaves the lids on one side and cuts them on the other.",
        "Move the pivot to the centre.",
        ("eye_pivot",), place(name, ball.piece.vertices) if wrong else (),
        repairs=(Repair("Pivot to the centre", "eye.centre_pivot", {"part": name}),) if wrong else (),
    )  # fmt: skip
