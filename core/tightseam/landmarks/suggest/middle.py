"""Landmarks of the middle line, read off the profile of the face."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.polyline import arc_length
from tightseam.geometry.types import Floats
from tightseam.head.found import FoundHead
from tightseam.head.openings import middle_profile
from tightseam.landmarks.suggest.curve import off_chord, smoothed
from tightseam.landmarks.suggest.found_mark import FoundMark, Marks

UP, OUT = 1, 2  # columns of local points
LIP_HEIGHT = 0.34  # mouth widths within which the edge of a lip is looked for
UNDER = 70.0  # degrees by which the chin has turned from facing forward to facing down
SHARP = 0.08  # depth of a hollow, as a share of its chord, from where there is no doubt about it


@dataclass(frozen=True)
class Profile:
    """The middle line of the face in local coordinates (left, up, forward): `upper` from the crown down to the upper lip, `lower`
    from the lower lip down to the neck."""

    upper: Floats
    lower: Floats


def profile_of(head: FoundHead) -> Profile | None:
    """The profile, split at the lips; None where there are no lips or no line through the middle."""
    if head.skin is None or head.frame is None or head.lips is None:
        return None
    cut = middle_profile(head.skin.surface, head.frame)
    if cut is None:
        return None
    line = head.frame.local(cut.points)
    top = int(line[:, UP].argmax())
    if cut.closed:
        line, top = np.roll(line, -top, axis=0), 0
    lips = [_nearest(line, head.frame.local(head.skin.points[v])) for v in (head.lips.upper, head.lips.lower)]
    if lips[0] < top:
        line, top, lips = line[::-1], len(line) - 1 - top, [len(line) - 1 - k for k in lips]
    if not top < lips[0] < lips[1]:
        return None
    return Profile(smoothed(line[top : lips[0] + 1]), smoothed(line[lips[1] :]))


def _nearest(line: Floats, rim: Floats) -> int:
    """Where a line passes the vertex of a rim that is nearest to the middle."""
    return int(np.linalg.norm(line - rim[np.abs(rim[:, 0]).argmin()], axis=1).argmin())


def middle_marks(head: FoundHead, profile: Profile) -> Marks:
    """Crown, nose, edges of the lips and chin."""
    assert head.frame is not None
    assert head.skin is not None
    assert head.lips is not None
    rim = head.frame.local(head.skin.points[head.lips.loop])
    reach = LIP_HEIGHT * float(np.ptp(rim[:, 0]))
    eyes = [float(head.frame.local(b.centre[None])[0, UP]) for b in head.balls.values()]
    found = _above(profile.upper, reach, float(np.mean(eyes)) if eyes else None) | _below(profile.lower, reach)
    world = head.frame.world
    return {name: FoundMark(world(m.point * [0, 1, 1]), m.sure) for name, m in found.items()}


def _above(line: Floats, reach: float, eye_line: float | None) -> Marks:
    found = {"crown": FoundMark(line[line[:, UP].argmax()], 0.7)}
    if eye_line is None:
        eye_line = float(line[-1, UP] + 0.45 * (line[0, UP] - line[-1, UP]))
    edge, edge_sure = _lip_edge(line[::-1], reach)
    found["lip_top"] = FoundMark(edge, edge_sure)
    face = np.flatnonzero((line[:, UP] < eye_line) & (line[:, UP] > edge[UP]))
    if not len(face):
        return found
    tip = int(face[line[face, OUT].argmax()])
    prominent = line[tip, OUT] - line[face, OUT].min()
    found["nose_tip"] = FoundMark(line[tip], 0.95 if prominent > 0.3 * reach else 0.4)
    found["nose_base"] = _hollow(line[tip:][line[tip:, UP] > edge[UP]], line[tip], edge)
    forehead = line[: tip + 1][line[: tip + 1, UP] > eye_line + 0.5 * (eye_line - line[tip, UP])]
    if len(forehead):
        lean = (forehead[:, OUT] - line[tip, OUT]) / (forehead[:, UP] - line[tip, UP])
        touched = int(lean.argmax())  # by a ruler laid on the tip
        found["nasion"] = _hollow(line[touched : tip + 1], forehead[touched], line[tip])
    return found


def _below(line: Floats, reach: float) -> Marks:
    edge, sure = _lip_edge(line, reach)
    found = {"lip_bottom": FoundMark(edge, sure)}
    step = np.diff(line, axis=0)
    facing_down = np.degrees(np.arctan2(step[:, OUT] * -1, -step[:, UP]))  # 0 where the line goes straight down, 90 where straight back
    beyond = np.flatnonzero((arc_length(line)[1:] > reach) & (line[1:, UP] < edge[UP]))
    under = beyond[facing_down[beyond] >= UNDER]
    if not len(under):
        return found
    turned = line[under[0]]
    found["chin_under"] = FoundMark(turned, 0.8)
    chin = line[(line[:, UP] < edge[UP]) & (np.arange(len(line)) <= under[0])]
    if len(chin):
        found["chin_front"] = FoundMark(chin[_in_front(chin, edge, turned).argmax()], 0.8)
    return found


def _lip_edge(line: Floats, reach: float) -> tuple[Floats, float]:
    """The edge of a lip on a line that starts at the lips: the hollow behind the bulge."""
    near = line[arc_length(line) <= reach]
    bulge = int(near[: len(near) // 2 + 1, OUT].argmax())
    edge = _hollow(near[bulge:], near[bulge], near[-1])
    return edge.point, edge.sure


def _hollow(line: Floats, start: Floats, end: Floats) -> FoundMark:
    """The deepest place between two points of the profile."""
    behind = -_in_front(line, start, end)
    depth = float(behind.max()) / max(float(np.linalg.norm(end - start)), 1e-9)
    return FoundMark(line[behind.argmax()], 0.55 + 0.35 * min(depth / SHARP, 1.0) if depth > 0.01 else 0.3)


def _in_front(line: Floats, start: Floats, end: Floats) -> Floats:
    """How far points of the profile (K, 3) lie in front of the chord from `start` to `end`, (K,)."""
    return off_chord(line[:, [OUT, UP]], start[[OUT, UP]], end[[OUT, UP]]) * np.sign(start[UP] - end[UP])
