"""Ears, and what is found from them: the hinge of the jaw and its corner."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats
from tightseam.head.found import FoundHead
from tightseam.landmarks.suggest.found_mark import FoundMark, Marks
from tightseam.landmarks.suggest.level import front_of, outline_at

SLICES = 40  # cuts beside the head, each a 50th of the ear's distance from the middle farther in
HALVINGS = 4  # of the last step, to find where the ear becomes the head
MERGED = 1.6  # growth of an outline from one slice to the next by which the ear has become the head
ATTACHED = 0.06  # share farther out than its root where the front of the ear is read, which melts into the cheek
TOP = 0.02  # of the ear's height: what counts as its top, which is flat
TALLEST = 0.5  # of the height from chin to crown: more is no ear
BELOW_MIDDLE = 0.15  # of the ear's height: how far below its middle the hinge lies
INWARDS = 0.19  # of the distance from the middle plane to the root of the ear: how far inside of it
SIDES = {"L": 1.0, "R": -1.0}


@dataclass(frozen=True)
class Ear:
    """An ear in local coordinates: its `top` point (3,), from which to which height it reaches, how far forward, and how far out
    its root lies."""

    top: Floats
    low: float
    high: float
    front: float
    root: float


def find_ear(head: FoundHead, sign: float, chin: float, crown: float) -> Ear | None:
    """The ear on one side: cuts along the middle plane, from outside inwards, until what they cut out is no longer an ear alone.

    `chin` and `crown` are local heights between which it is looked for.
    """
    assert head.frame is not None
    assert head.skin is not None
    frame, points = head.frame, head.frame.local(head.skin.points)
    eyes = [float(frame.local(b.centre[None])[0, 2]) for b in head.balls.values()]
    behind = (min(eyes) if eyes else float(np.median(points[:, 2]))) - 0.1 * (crown - chin)
    beside = np.flatnonzero((points[:, 2] < behind) & (points[:, 1] > chin) & (points[:, 1] < chin + 0.75 * (crown - chin)))
    if not len(beside):
        return None
    tip = points[beside[(points[beside, 0] * sign).argmax()]]
    slices = _Slices(head, tip, TALLEST * (crown - chin))
    outs = abs(float(tip[0])) * (1 - np.arange(1, SLICES) / 50)
    found: list[Floats] = []
    root = merged = 0.0
    for out in outs.tolist():
        outline = slices.at(sign * out, found[-1] if len(found) > 3 else None)
        if outline is None and found:
            merged = out
            break
        if outline is not None:
            found.append(outline)
            root = out
    if len(found) < 4:
        return None
    for _ in range(HALVINGS):
        out = (root + merged) / 2
        root, merged = (root, out) if slices.at(sign * out, found[-1]) is None else (out, merged)
    before = slices.at(sign * root * (1 + ATTACHED), None)
    front = float((found[-1] if before is None else before)[:, 2].max())
    whole = np.concatenate(found)
    low, high = whole.min(axis=0), whole.max(axis=0)
    top = whole[whole[:, 1] >= high[1] - TOP * (high[1] - low[1])]
    return Ear((top.min(axis=0) + top.max(axis=0)) / 2, float(low[1]), float(high[1]), front, root)


class _Slices:
    """Cuts of a head along its middle plane, and which of their outlines is the ear's."""

    def __init__(self, head: FoundHead, tip: Floats, tallest: float) -> None:
        assert head.frame is not None
        assert head.skin is not None
        self._frame, self._skin, self._tip, self._tallest = head.frame, head.skin, tip, tallest

    def at(self, out: float, before: Floats | None) -> Floats | None:
        """The closed outline nearest to the ear's tip, (K, 3) local; None where there is none or, against the one `before`, it
        has grown into the head."""
        plane = Plane(self._frame.origin + out * self._frame.axes[0], self._frame.axes[0])
        lines = section(self._skin.points, self._skin.surface.triangles, plane)
        outlines = [self._frame.local(line.points) for line in lines if line.closed]
        if not outlines:
            return None
        outline = min(outlines, key=lambda q: float(np.linalg.norm(q - self._tip, axis=1).min()))
        size = np.ptp(outline[:, 1:], axis=0)
        merged = size[0] > self._tallest or (before is not None and (size > MERGED * np.ptp(before[:, 1:], axis=0)).any())
        return None if merged else outline


def ear_and_jaw_marks(head: FoundHead, marks: Marks) -> Marks:
    """Tops of the ears, hinges and corners of the jaw. Needs crown, chin and lips among `marks`."""
    assert head.frame is not None
    if not {"crown", "chin_under", "lip_bottom"} <= marks.keys():
        return {}
    frame = head.frame
    crown, chin, lip = (float(frame.local(marks[n].point[None])[0, 1]) for n in ("crown", "chin_under", "lip_bottom"))
    found: Marks = {}
    for side, sign in SIDES.items():
        ear = find_ear(head, sign, chin, crown)
        if ear is None:
            continue
        tall = ear.high - ear.low
        sure = 0.7 if 0.1 < tall / (crown - chin) < 0.4 else 0.3
        found[f"ear_top_{side}"] = FoundMark(frame.world(ear.top), sure)
        middle = (ear.high + ear.low) / 2
        hinge = np.array([sign * ear.root * (1 - INWARDS), middle - BELOW_MIDDLE * tall, ear.front])
        found[f"jaw_hinge_{side}"] = FoundMark(frame.world(hinge), min(sure, 0.6))
        corner = _corner(head, sign, lip, float(hinge[2]))
        if corner is not None:
            found[f"jaw_angle_{side}"] = FoundMark(frame.world(corner), min(sure, 0.6))
    return found


def _corner(head: FoundHead, sign: float, height: float, depth: float) -> Floats | None:
    """Where the level outline at `height` passes `depth` on one side, the outermost."""
    outline = outline_at(head, height)
    half = None if outline is None else front_of(outline, sign)
    if half is None:
        return None
    a, b = half[:-1], half[1:]
    passes = (a[:, 2] - depth) * (b[:, 2] - depth) <= 0
    if not passes.any():
        return None
    t = ((a[:, 2] - depth) / np.where(a[:, 2] == b[:, 2], 1, a[:, 2] - b[:, 2]))[:, None]
    crossing = (a + np.clip(t, 0, 1) * (b - a))[passes]
    return np.asarray(crossing[(crossing[:, 0] * sign).argmax()])
