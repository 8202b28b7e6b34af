"""Checks of the lids: relaxed, as many spans above as below, loops to close them with, thick enough to be seen."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.checkin.check import Check, place
from tightseam.checkin.subject import Subject
from tightseam.checkin.zones import Zone
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.normals import unit
from tightseam.geometry.types import Floats
from tightseam.head.openings import Opening

ASYMMETRY = 3.0  # degrees that left and right lids may differ by
HOLLOW = 0.004  # of the eyeball's radius by which the fold lies below its neighbours
THICK_WITHIN = 0.22  # eyeball radii from the margin within which the outer sheet has its full thickness


def lid_checks(subject: Subject, zones: dict[str, Zone]) -> Iterator[Check]:
    for side in ("L", "R"):
        if side in zones:
            yield _relaxed(subject, side, zones)
            yield spans(subject, f"lid_spans_{side}", f"Spans of the lids {side}", "lids", zones[side].opening, "lid")
            yield _loops(subject, side, zones[side])
            yield _thickness(subject, side, zones[side])


def spans(subject: Subject, key: str, label: str, region: str, opening: Opening, noun: str) -> Check:
    """Do upper and lower line have as many edges from corner to corner?"""
    assert subject.skin is not None
    up, low = len(opening.upper) - 1, len(opening.lower) - 1
    short = opening.upper if up < low else opening.lower
    wrong = up != low
    said = f"{up} above, {low} below"
    missing = (
        f"Add {'an edge' if abs(up - low) == 1 else f'{abs(up - low)} edges'} across the "
        f"{'upper' if up < low else 'lower'} {noun}, or take as many away across the other."
    )
    return Check(
        key, label, region, "fault" if wrong else "fine", said,  # type: ignore[arg-type]
        f"Upper and lower {noun} meet vertex on vertex when they close. A missing span leaves a vertex "
        "without a partner: the line gapes or bulges there.",
        missing if wrong else f"Ask for as many edges across the upper {noun} as across the lower one.",
        places=place(subject.skin.part.name, subject.skin.vertices[short]) if wrong else (),
    )  # fmt: skip


def opening_degrees(points: Floats, opening: Opening, centre: Floats, up: Floats) -> float:
    """Angle at the eye's centre between the highest point of the upper margin and the lowest of the lower one."""
    upper, lower = points[opening.upper] - centre, points[opening.lower] - centre
    a, b = unit(upper[(upper @ up).argmax()]), unit(lower[(lower @ up).argmin()])
    return float(np.degrees(np.arccos(np.clip(a @ b, -1, 1))) * np.sign((a - b) @ up))


def _relaxed(subject: Subject, side: str, zones: dict[str, Zone]) -> Check:
    skin, frame = subject.skin, subject.frame
    assert skin is not None
    assert frame is not None
    open_by = {s: opening_degrees(skin.points, z.opening, subject.balls[s].centre, frame.axes[1]) for s, z in zones.items()}
    here, other = open_by[side], open_by.get("R" if side == "L" else "L", open_by[side])
    least, most = subject.limits["lid_opening_least"], subject.limits["lid_opening_most"]
    beyond = not least <= here <= most
    uneven = abs(here - other) > ASYMMETRY
    said = f"open by {here:.0f}°" + (f", the other eye by {other:.0f}°" if uneven else "")
    return Check(
        f"lid_relaxed_{side}", f"Lids relaxed {side}", "lids", "look" if beyond or uneven else "fine", said,
        "Blink and wide are sculpted from the neutral. Lids that start half closed or torn open leave one of the two without room.",
        "Ask for a neutral with the lids resting on the iris, both eyes alike.",
        ("lid_opening_least", "lid_opening_most"),
        place(skin.part.name, skin.vertices[zones[side].opening.loop]) if beyond or uneven else (),
    )  # fmt: skip


def _loops(subject: Subject, side: str, zone: Zone) -> Check:
    piece = zone.piece
    found = len(zone.rings) - 1
    wanted = int(subject.limits["lid_loops"])
    fold = _has_fold(subject, side, zone)
    poor = found < wanted or not fold
    said = f"{found} loops round the margin, {'a fold among them' if fold else 'no fold'}" if found else "no unbroken loop round the margin"
    return Check(
        f"lid_loops_{side}", f"Loops round the lids {side}", "lids", "look" if poor else "fine", said,
        "A lid bends along its loops. Without loops and a fold line that go all the way round, the closing "
        "spreads unevenly and the lid folds where it likes.",
        "Ask for unbroken loops from the margin to the fold, and one loop in the fold itself.",
        ("lid_loops",), place(piece.part.name, piece.vertices[zone.opening.loop]) if poor else (),
    )  # fmt: skip


def _has_fold(subject: Subject, side: str, zone: Zone) -> bool:
    """Does some loop above the eye lie below its neighbours on both sides, seen from the eyeball?"""
    ball, frame = subject.balls[side], subject.frame
    assert frame is not None
    if len(zone.rings) < 3:
        return False
    rings = np.array(zone.rings)
    arm = zone.piece.points[rings] - ball.centre
    radius = np.linalg.norm(arm, axis=2)
    above = (arm @ frame.axes[1])[0] > 0.1 * ball.radius
    bend = (radius[:-2] + radius[2:]) / 2 - radius[1:-1]
    return bool((np.median(bend[1:, above], axis=1) > HOLLOW * ball.radius).any())


def _thickness(subject: Subject, side: str, zone: Zone) -> Check:
    """The margin to the outer sheet, along rays from the eye's centre."""
    ball, piece = subject.balls[side], zone.piece
    radius = np.linalg.norm(piece.points - ball.centre, axis=1)
    loop = zone.opening.loop
    near = np.flatnonzero(zone.outside & (zone.distance < THICK_WITHIN * ball.radius))
    arm = unit(piece.points - ball.centre)
    nearest = (arm[near] @ arm[loop].T).argmax(axis=1)
    thick = np.zeros(len(loop))
    np.maximum.at(thick, nearest, radius[near] - radius[loop][nearest])
    thin = thick * CM_TO_MM < subject.limits["lid_thickness"]
    for line in (zone.opening.upper, zone.opening.lower):
        thin[np.isin(loop, line[[0, 1, -2, -1]])] = False  # corners taper off by design
    typical = float(np.median(thick)) * CM_TO_MM
    return Check(
        f"lid_thickness_{side}", f"Lid thickness {side}", "lids", "look" if thin.any() else "fine",
        f"{typical:.1f} mm, thinnest {float(thick[~np.isin(loop, zone.opening.upper[[0, -1]])].min()) * CM_TO_MM:.1f} mm",
        "The edge of the lid catches light. A lid without thickness looks like paper and cannot be kept off the cornea.",
        "Ask for an inner side, or thicken the lid at Landmarks.",
        ("lid_thickness",), place(piece.part.name, piece.vertices[loop[thin]]),
    )  # fmt: skip
