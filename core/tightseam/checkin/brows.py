"""Do the brow meshes bend as the skin below them bends?"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.checkin.check import Check, place
from tightseam.checkin.subject import Subject
from tightseam.document.labels import part_label
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Floats
from tightseam.head.found import Piece

LIFT = 5.0  # mm by which the test bump raises the skin
BUMP = 1.0  # cm, standard deviation of the test bump


def brow_checks(subject: Subject) -> Iterator[Check]:
    for piece in subject.pieces:
        if piece.part.kind == "brow":
            yield _drift(subject, piece)


def _drift(subject: Subject, piece: Piece) -> Check:
    """A bump of the skin, as a brow raise makes it, against what the brow's straight edges make of it."""
    drift = edge_drift(piece.points[piece.edges.ends], np.median(piece.points, axis=0))
    worst = float(drift.max(initial=0.0))
    limit = subject.limits["brow_drift"]
    wrong = worst > limit
    name = piece.part.name
    spacing = float(np.linalg.norm(np.diff(piece.points[piece.edges.ends], axis=1)[:, 0], axis=1).max(initial=0.0)) * CM_TO_MM
    return Check(
        f"brow_density_{name}", f"{part_label(name)} mesh against the skin", "brows", "fault" if wrong else "fine",
        f"drifts {worst:.2f} mm where the skin bends by {LIFT:g} mm; longest edge {spacing:.1f} mm",
        "A brow coarser than the skin cuts its corners: when the skin bends it sinks in at the middle of its "
        "edges and stands off at their ends.",
        "Ask for a brow with edges no longer than those of the skin below, or subdivide it before it is bound.",
        ("brow_drift",), place(name, piece.vertices) if wrong else (),
    )  # fmt: skip


def edge_drift(ends: Floats, middle: Floats) -> Floats:
    """How far the middle of each edge (E, 2, 3) in cm leaves a skin that is raised about `middle`, in mm.

    The skin goes up by LIFT · exp(-r² / 2 BUMP²); a straight edge by the mean of what its two ends do.
    """

    def lift(points: Floats) -> Floats:
        return np.asarray(LIFT * np.exp(-((points - middle) ** 2).sum(axis=-1) / (2 * BUMP**2)))

    return np.abs(lift(ends.mean(axis=1)) - lift(ends).mean(axis=1))
