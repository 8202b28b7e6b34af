"""Checks of the edge flow: poles where the skin moves most, rows on the forehead, quads."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.checkin.check import Check, Mark, count, place
from tightseam.checkin.subject import Subject
from tightseam.checkin.zones import Zone
from tightseam.geometry.adjacency import boundary, valence
from tightseam.geometry.types import Bools
from tightseam.head.found import Piece
from tightseam.head.openings import middle_profile

FEW_QUADS = 0.8
FOREHEAD = 0.45  # of the way from the brows to the crown


def topology_checks(subject: Subject, lids: dict[str, Zone], lips: Zone | None) -> Iterator[Check]:
    skin = subject.skin
    if skin is None:
        return
    share = float((skin.polygons.sizes == 4).mean())
    yield Check(
        "quads", "Faces with four corners", "skin", "fine" if share >= FEW_QUADS else "look", f"{share:.0%} of the faces",
        "Loops run over quads. On a skin of triangles loops, rings and spans cannot be followed, and weights are painted without a guide.",
        "Ask for the mesh before it was triangulated.",
    )  # fmt: skip
    if share >= FEW_QUADS:
        zones = [z.moving for z in (*lids.values(), lips) if z is not None]
        yield _poles(skin, np.logical_or.reduce(zones) if zones else np.zeros(len(skin.points), bool))
    if subject.frame is not None:
        yield _forehead(subject)


def _poles(skin: Piece, moving: Bools) -> Check:
    meet = valence(skin.polygons, len(skin.points))
    inner = (meet > 0) & ~boundary(skin.polygons, len(skin.points))
    found = np.flatnonzero(inner & (meet != 4) & moving)
    name = skin.part.name
    said = (
        count(len(found), "pole") + " on lids and lips"
        if len(found)
        else f"none on lids and lips, {int((inner & (meet != 4)).sum())} elsewhere"
    )
    return Check(
        "poles", "Poles on lids and lips", "skin", "fault" if len(found) else "fine", said,
        "Where other than four edges meet the surface cannot stretch evenly: it pinches, and the pinch shows "
        "as soon as the lid or lip moves.",
        "Ask to move the pole out to where the skin rests: below the cheek, beside the nose, behind the brow.",
        places=place(name, skin.vertices[found]),
        marks=tuple(Mark(name, int(skin.vertices[v]), f"{meet[v]} edges") for v in found[:40]),
    )  # fmt: skip


def _forehead(subject: Subject) -> Check:
    assert subject.skin is not None
    assert subject.frame is not None
    profile = middle_profile(subject.skin.surface, subject.frame)
    brows = [p.points for p in subject.pieces if p.part.kind == "brow"]
    wanted = int(subject.limits["forehead_rows"])
    rows = 0
    if profile is not None:
        p = subject.frame.local(profile.points)
        crown = float(p[:, 1].max())
        ball = max((b.radius for b in subject.balls.values()), default=0.08 * crown)
        start = float(np.mean([subject.frame.local(b)[:, 1].mean() for b in brows])) if brows else 1.3 * ball
        high = (p[:, 1] > start) & (p[:, 1] < start + FOREHEAD * (crown - start)) & (p[:, 2] > np.median(p[:, 2]))
        front = subject.skin.points[np.unique(profile.edges[high])]
        heights = np.sort(subject.frame.local(front)[:, 1]) if len(front) else np.zeros(0)
        step = 0.25 * float(np.median(np.linalg.norm(np.diff(p, axis=0), axis=1)))
        rows = int((np.diff(heights) > step).sum() + 1) if len(heights) else 0
    return Check(
        "forehead_rows", "Rows over the brows", "brows", "look" if rows < wanted else "fine", f"{rows} rows",
        "Raised brows wrinkle the forehead row by row. With too few rows the whole forehead goes up like a lid.",
        f"Ask for at least {wanted} rows between brows and hairline.",
        ("forehead_rows",),
    )  # fmt: skip
