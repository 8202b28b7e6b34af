"""Checks of the mouth: closed, lips lying on one another, spans and loops."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.checkin.check import Check, place
from tightseam.checkin.lids import spans
from tightseam.checkin.subject import Subject
from tightseam.checkin.zones import Zone
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Floats, Ints

CORNERS = 0.9  # of the way to the corner up to which the lips are judged
OPEN_MOUTH = 5.0  # mm; a wider gap is no slip but another pose


def mouth_checks(subject: Subject, zone: Zone | None) -> Iterator[Check]:
    if zone is None or subject.frame is None:
        return
    piece = zone.piece
    vertices, gap = lip_gaps(subject.frame.local(piece.points), zone.opening.upper, zone.opening.lower)
    limit = subject.limits["lip_gap"]
    widest = float(gap.max())
    wide = gap > limit
    lower = _opposite(subject.frame.local(piece.points), vertices[wide], zone.opening.lower)
    yield Check(
        "mouth_closed", "Mouth closed at rest", "mouth", "fault" if wide.any() else "fine",
        f"gap of {widest:.2f} mm" if widest > 0 else f"closed, overlap of {-widest:.2f} mm at the least",
        "Every mouth shape adds to the neutral. Lips that start apart stay apart in all of them, and teeth shine through."
        + (" So wide a gap is another pose: ask for the neutral." if widest > OPEN_MOUTH else ""),
        "Ask for a neutral with closed lips that lie on one another.",
        ("lip_gap",), place(piece.part.name, piece.vertices[np.concatenate([vertices[wide], lower])]) if wide.any() else (),
    )  # fmt: skip
    yield _overlap(subject, zone, vertices, gap)
    yield spans(subject, "lip_spans", "Spans of the lips", "mouth", zone.opening, "lip")
    found, wanted = len(zone.rings) - 1, int(subject.limits["lip_loops"])
    yield Check(
        "lip_loops", "Loops round the lips", "mouth", "look" if found < wanted else "fine",
        f"{found} unbroken loops" if found else "no unbroken loop",
        "Lips roll along their loops. Where a loop ends, a pucker or a smile breaks the edge of the lip.",
        "Ask for loops that run all the way round the mouth.",
        ("lip_loops",), place(piece.part.name, piece.vertices[zone.opening.loop]) if found < wanted else (),
    )  # fmt: skip


def lip_gaps(local: Floats, upper: Ints, lower: Ints) -> tuple[Ints, Floats]:
    """Upper lip vertices short of the corners, and how far above the lower lip line each lies, in mm; negative where they overlap."""
    x = local[upper, 0]
    middle, half = (x[0] + x[-1]) / 2, abs(x[-1] - x[0]) / 2
    judged = upper[np.abs(x - middle) < CORNERS * half]
    order = np.argsort(local[lower, 0])
    below = np.interp(local[judged, 0], local[lower, 0][order], local[lower, 1][order])
    return judged, (local[judged, 1] - below) * CM_TO_MM


def _opposite(local: Floats, upper: Ints, lower: Ints) -> Ints:
    """Lower lip vertices that lie across the stretch which `upper` covers."""
    if not len(upper):
        return upper
    x = local[lower, 0]
    reach = np.abs(np.diff(np.sort(local[lower, 0]))).max(initial=0.0) / 2
    return np.asarray(lower[(x > local[upper, 0].min() - reach) & (x < local[upper, 0].max() + reach)])


def _overlap(subject: Subject, zone: Zone, vertices: Ints, gap: Floats) -> Check:
    piece = zone.piece
    least, most = subject.limits["lip_overlap_least"], subject.limits["lip_overlap_most"]
    deepest = float(-gap.min())
    closed = float(gap.max()) <= subject.limits["lip_gap"]
    wrong = closed and not least <= deepest <= most
    said = f"{max(deepest, 0):.2f} mm where they lie deepest"
    return Check(
        "lip_overlap", "Overlap of the lips", "mouth", "look" if wrong else "fine", said,
        "Lips that just touch show a slit as soon as the surface is smoothed; lips that lie too deep in each other pop out in every shape.",
        f"Ask for an overlap of {least:g} to {most:g} mm along the line.",
        ("lip_overlap_least", "lip_overlap_most"), place(piece.part.name, piece.vertices[vertices]) if wrong else (),
    )  # fmt: skip
