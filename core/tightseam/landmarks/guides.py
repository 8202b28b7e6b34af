"""Where a head is, for looking at it: the few points that views are aimed at, set as landmarks or found on the mesh."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.make import make_point
from tightseam.document.model import Character, Point
from tightseam.geometry.types import Floats
from tightseam.head.found import FoundHead, found_head
from tightseam.head.openings import middle_profile

NAMES = ("crown", "chin_under", "lip_upper", "eye_centre_L", "eye_centre_R")
CHIN_DEPTH = 0.12  # of the height from mouth to crown: how far behind the lips the chin may be


@dataclass(frozen=True)
class Guides:
    """`points` by name of the landmark they stand for (cm); `heading` in degrees about Y, 0 for a head that looks along Z."""

    points: dict[str, Point]
    heading: float


@derived("parts", "landmarks")
def guides_of(character: Character, store: ArrayStore) -> Guides:
    """What guides the view of a character."""
    return find_guides(found_head(character, store), character)


def find_guides(head: FoundHead, character: Character) -> Guides:
    """Landmarks where they are set; else crown, chin, lips and eyes as they are found on the mesh; else the bounds of all parts."""
    placed: dict[str, Point] = {m.name: m.point for m in character.landmarks if m.name in NAMES}
    if len(placed) == len(NAMES):
        return Guides(placed, _heading(placed))
    frame = head.frame
    if frame is None:
        return Guides(_bounds(head), 0.0)
    forward = frame.axes[2]
    points = {f"eye_centre_{side}": ball.centre for side, ball in head.balls.items()}
    crown, chin = crown_and_chin(head)
    points |= {"crown": crown, "chin_under": chin, "lip_upper": _lip(head, crown, chin)}
    found: dict[str, Point] = {name: make_point(p) for name, p in points.items()}
    return Guides(found | placed, float(np.degrees(np.arctan2(forward[0], forward[2]))))


def _heading(placed: dict[str, Point]) -> float:
    """Which way a head looks, by where its eyes are."""
    left = np.array(placed["eye_centre_L"]) - placed["eye_centre_R"]
    return float(np.degrees(np.arctan2(-left[2], left[0])))


def crown_and_chin(head: FoundHead) -> tuple[Floats, Floats]:
    """Top of the middle profile of the skin (3,), and the lowest point of the face in front of the neck (3,); cm."""
    skin, frame = head.skin, head.frame
    assert skin is not None
    assert frame is not None
    profile = middle_profile(skin.surface, frame)
    line = skin.points if profile is None else profile.points
    p = frame.local(line)
    top = int(p[:, 1].argmax())
    if profile is None or head.lips is None:
        return line[top], line[int(p[:, 1].argmin())]
    mouth = frame.local(skin.points[head.lips.lower]).mean(axis=0)
    below = np.flatnonzero((p[:, 1] < mouth[1]) & (p[:, 2] > mouth[2] - CHIN_DEPTH * (p[top, 1] - mouth[1])))
    if not len(below):
        return line[top], skin.points[head.lips.lower].mean(axis=0)
    return line[top], line[below[p[below, 1].argmin()]]


def _lip(head: FoundHead, crown: Floats, chin: Floats) -> Floats:
    assert head.skin is not None
    if head.lips is None:
        return chin + 0.2 * (crown - chin)
    line = head.skin.points[head.lips.upper]
    return np.asarray(line[len(line) // 2])


def _bounds(head: FoundHead) -> dict[str, Point]:
    points = np.concatenate([p.points for p in head.pieces if len(p.points)] or [np.zeros((1, 3))])
    low, high = points.min(axis=0), points.max(axis=0)
    middle = (low + high) / 2
    return {
        "crown": make_point(np.array([middle[0], high[1], middle[2]])),
        "chin_under": make_point(np.array([middle[0], low[1], high[2]])),
    }
