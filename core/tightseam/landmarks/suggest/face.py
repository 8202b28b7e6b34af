"""Landmarks of eyes, brows, nose wings, cheeks and mouth."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.normals import unit
from tightseam.geometry.polyline import arc_length
from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats, Ints
from tightseam.head.found import FoundHead
from tightseam.head.openings import Opening
from tightseam.landmarks.suggest.curve import half_way, off_chord, smoothed
from tightseam.landmarks.suggest.found_mark import FoundMark, Marks
from tightseam.landmarks.suggest.level import front_of, outline_at

BROW_ENDS, BROW_MIDDLE = 0.04, 0.1  # shares of a brow's length that count as its end, and to both sides as its middle
BROW_HALF = 0.46  # of its length straight from end to end: bent round the head, it is half-way along here
FOLD_ABOVE = (0.09, 0.62)  # eyeball radii from the margin within which a fold lies
LEAVES = {"upper": 0.03, "lower": 0.06}  # radii by which a lid has left the ball where it ends
WING_HEIGHTS = (0.35, 0.5, 0.65)  # shares of the way from the base to the tip of the nose
WING_SPAN = 0.08  # of the distance to the pupil: over which the side of the nose is read, so that single facets do not matter
STEEP = 8.0  # degrees within which the side of the nose counts as facing most outwards
SIDES = {"L": 1.0, "R": -1.0}


def eye_marks(head: FoundHead) -> Marks:
    """Eye centres, lid corners, middles of the margins, folds."""
    assert head.skin is not None
    found: Marks = {f"eye_centre_{side}": FoundMark(ball.centre, 0.95) for side, ball in head.balls.items()}
    for side, opening in head.lids.items():
        points = head.skin.points
        found[f"lid_inner_{side}"] = FoundMark(points[opening.upper[0]], 0.9)
        found[f"lid_outer_{side}"] = FoundMark(points[opening.upper[-1]], 0.9)
        for lid, line in (("upper", opening.upper), ("lower", opening.lower)):
            middle = _middle_vertex(points, line)
            found[f"lid_{lid}_{side}"] = FoundMark(points[middle], 0.9)
        found |= _folds(head, side, opening)
    return found


def _middle_vertex(points: Floats, line: Ints) -> int:
    """The vertex of a line nearest to half way along it."""
    return int(line[np.linalg.norm(points[line] - half_way(points[line]), axis=1).argmin()])


def _folds(head: FoundHead, side: str, opening: Opening) -> Marks:
    assert head.skin is not None
    assert head.frame is not None
    ball, points = head.balls[side], head.skin.points
    found: Marks = {}
    for lid, line, sign in (("upper", opening.upper, 1.0), ("lower", opening.lower, -1.0)):
        margin = points[_middle_vertex(points, line)]
        path = _away_from(head, margin, ball.centre, sign * head.frame.axes[1])
        if path is None:
            continue
        far = np.linalg.norm(path - ball.piece.surface.closest(path), axis=1) / ball.radius  # off the ball as it is, round or not
        rise = np.abs((path - margin) @ head.frame.axes[1]) / ball.radius
        window = np.flatnonzero((rise > FOLD_ABOVE[0]) & (rise < FOLD_ABOVE[1]))
        if not len(window):
            continue
        lowest = int(window[far[window].argmin()]) if lid == "upper" else int(window[0])
        left = window[(far[window] > far[lowest] + LEAVES[lid]) & (window > lowest)]
        if len(left):
            found[f"lid_fold_{lid}_{side}"] = FoundMark(path[int(left[0])], 0.55)
    return found


def _away_from(head: FoundHead, margin: Floats, centre: Floats, direction: Floats) -> Floats | None:
    """The line on the outside of the skin from a lid margin up or down, in the plane through the eye's centre."""
    assert head.skin is not None
    assert head.frame is not None
    normal = unit(np.cross(margin - centre, direction))
    best: tuple[float, Floats, int] | None = None
    for cut in section(head.skin.points, head.skin.surface.triangles, Plane(centre, normal)):
        k = int(np.linalg.norm(cut.points - margin, axis=1).argmin())
        gap = float(np.linalg.norm(cut.points[k] - margin))
        if best is None or gap < best[0]:
            best = (gap, cut.points, k)
    if best is None:
        return None
    _, line, k = best
    ways = [line[k:], line[k::-1]]
    reach = [float(np.max((w - margin) @ head.frame.axes[2], initial=-np.inf)) if len(w) > 3 else -np.inf for w in ways]
    return smoothed(ways[int(np.argmax(reach))][:60])


def mouth_marks(head: FoundHead) -> Marks:
    """Corners and middles of the lip line."""
    if head.lips is None:
        return {}
    assert head.skin is not None
    assert head.frame is not None
    points, lips = head.skin.points, head.lips
    found: Marks = {
        "mouth_corner_R": FoundMark(points[lips.upper[0]], 0.9),
        "mouth_corner_L": FoundMark(points[lips.upper[-1]], 0.9),
    }
    for lip, line in (("upper", lips.upper), ("lower", lips.lower)):
        found[f"lip_{lip}"] = FoundMark(points[_middle_vertex(points, line)], 0.95)
    return found


def cheek_and_wing_marks(head: FoundHead, marks: Marks) -> Marks:
    """Nose wings and cheeks, on level lines at heights that other landmarks give."""
    assert head.frame is not None
    found: Marks = {}
    at = {name: head.frame.local(m.point[None])[0] for name, m in marks.items()}
    for side, sign in SIDES.items():
        pupil = at.get(f"lid_upper_{side}", at.get(f"eye_centre_{side}"))
        if pupil is None:
            continue
        if "nose_tip" in at and "nose_base" in at:
            wing = _wing(head, at["nose_base"][1], at["nose_tip"][1], sign, abs(float(pupil[0])))
            if wing is not None:
                found[f"nose_wing_{side}"] = wing
        if f"lid_fold_lower_{side}" in at and f"mouth_corner_{side}" in at:
            line = _front(head, (at[f"lid_fold_lower_{side}"][1] + at[f"mouth_corner_{side}"][1]) / 2, sign)
            if line is not None:
                aside = line[line[:, 0] * sign > abs(float(pupil[0]))]
                if len(aside):
                    point = aside[(aside[:, 0] * sign + aside[:, 2]).argmax()]
                    found[f"cheek_{side}"] = FoundMark(head.frame.world(point), 0.8)
    return found


def _front(head: FoundHead, height: float, sign: float) -> Floats | None:
    outline = outline_at(head, height)
    half = None if outline is None else front_of(outline, sign)
    return None if half is None or len(half) < 8 else smoothed(half[: len(half) * 2 // 3])


def _wing(head: FoundHead, base: float, tip: float, sign: float, pupil: float) -> FoundMark | None:
    """The side of the nose between the heights of its base and tip: the middle of what level lines about half way give."""
    assert head.skin is not None
    lines = [_front(head, base + share * (tip - base), sign) for share in WING_HEIGHTS]
    found = [_facing_out(head, line, sign, pupil) for line in lines if line is not None]
    if not found:
        return None
    middle = np.mean([m.point for m in found], axis=0)
    return FoundMark(head.skin.surface.closest(middle[None])[0], min(m.sure for m in found))


def _facing_out(head: FoundHead, line: Floats, sign: float, pupil: float) -> FoundMark:
    """Where a level line from the tip over the side of the nose faces most outwards, before the corner where nose and cheek meet."""
    assert head.frame is not None
    flat = (line * [sign, 1, 1])[np.abs(line[:, 0]) <= pupil][:, [0, 2]]
    meet = int(off_chord(flat, flat[0], flat[-1]).argmin())  # the deepest place behind the ruler from tip to cheek
    span = max(1, int(WING_SPAN * pupil / max(float(arc_length(flat)[-1]) / len(flat), 1e-9)))
    at = np.arange(span, min(meet + span, len(flat) - span))
    step = flat[at + span] - flat[at - span]
    facing = np.where(flat[at, 0] > flat[meet, 0] / 2, np.degrees(np.arctan2(-step[:, 1], step[:, 0])), -np.inf)
    if not len(at) or not np.isfinite(facing.max()):
        return FoundMark(head.frame.world(line[meet]), 0.2)
    wall = at[facing > facing.max() - STEEP]
    return FoundMark(head.frame.world(line[wall[len(wall) // 4]]), 0.7 if facing.max() > 35 else 0.4)


def brow_marks(head: FoundHead) -> Marks:
    """Ends and middles of the brows, dropped on the skin; without brows, about where they would be over the eyes."""
    assert head.skin is not None
    assert head.frame is not None
    pieces = [head.frame.local(p.points) for p in head.pieces if p.part.kind == "brow" and len(p.points)]
    all_points = np.concatenate(pieces) if pieces else np.zeros((0, 3))
    found: Marks = {}
    for side, sign in SIDES.items():
        mine = all_points[all_points[:, 0] * sign > 0]
        if len(mine) >= 6:
            local, sure = _along_brow(mine, sign), 0.8
        elif side in head.balls:
            ball = head.balls[side]
            centre = head.frame.local(ball.centre[None])[0]
            local, sure = centre + ball.radius * np.array([[-0.95 * sign, 1.25, 1.3], [0, 1.5, 1.2], [1.1 * sign, 1.2, 0.7]]), 0.3
        else:
            continue
        dropped = head.skin.surface.closest(head.frame.world(local))
        for name, point in zip(("inner", "middle", "outer"), dropped, strict=True):
            found[f"brow_{name}_{side}"] = FoundMark(point, sure)
    return found


def _along_brow(points: Floats, sign: float) -> Floats:
    """Inner end, middle and outer end of a brow, (3, 3): middles of thin slices across its longest direction."""
    centre = points.mean(axis=0)
    along = np.linalg.svd(points - centre, full_matrices=False)[2][0]
    along = along * np.sign(along[0] * sign)
    t = (points - centre) @ along
    low, high = t.min(), t.max()
    ends, middle = BROW_ENDS * (high - low), np.abs(t - low - BROW_HALF * (high - low))
    slices = [t <= low + ends, middle <= middle.min() + BROW_MIDDLE * (high - low), t >= high - ends]
    return np.array([points[s].mean(axis=0) for s in slices])
