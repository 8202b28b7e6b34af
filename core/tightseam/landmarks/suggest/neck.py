"""The middle of the neck, from level cuts below the chin; and the ends of the tongue."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats
from tightseam.head.found import FoundHead
from tightseam.landmarks.suggest.found_mark import FoundMark, Marks
from tightseam.landmarks.suggest.level import outline_at

CUTS = 24
WIDENS = 1.68  # times its narrowest from where the neck is shoulders
LEAN = 0.75  # of the lean of the cuts: nearer to the chin the throat pulls their middle forward
SPINE = 0.02  # of the depth of the neck: how far behind the middle of its outline its base turns
TONGUE_END = 0.02  # of the tongue's length that counts as its end


def neck_marks(head: FoundHead, marks: Marks) -> Marks:
    """Top and base of the neck. Needs `chin_under` and `nose_base` among `marks`."""
    if not {"chin_under", "nose_base"} <= marks.keys():
        return {}
    assert head.frame is not None
    assert head.skin is not None
    frame = head.frame
    chin, nose = (float(frame.local(marks[n].point[None])[0, 1]) for n in ("chin_under", "nose_base"))
    lowest = float(frame.local(head.skin.points)[:, 1].min())
    cuts = []
    for height in np.linspace(chin, lowest, CUTS + 2)[1:-1]:
        outline = outline_at(head, height)
        if outline is not None and np.allclose(outline[0], outline[-1]):
            cuts.append((height, float(np.ptp(outline[:, 0])), _middle(outline), float(np.ptp(outline[:, 2]))))
    if len(cuts) < 4:
        return {}
    heights, widths, depths, deep = (np.array(c) for c in zip(*cuts, strict=True))
    narrow = int(widths.argmin())
    wide = np.flatnonzero((widths > WIDENS * widths[narrow]) & (np.arange(len(widths)) > narrow))
    if len(wide):
        k = int(wide[0])
        base = float(np.interp(WIDENS * widths[narrow], widths[k - 1 : k + 1], heights[k - 1 : k + 1]))
    else:
        base, k = float(heights[-1]), len(heights) - 1
    upper = min(narrow, k - 2)
    lean = LEAN * float(np.polyfit(heights[upper : k + 1], depths[upper : k + 1], 1)[0]) if upper >= 0 else 0.0
    at_base = float(np.interp(-base, -heights, depths))
    top = np.array([0.0, nose, at_base + lean * (nose - base)])
    return {
        "neck_base": FoundMark(frame.world(np.array([0.0, base, at_base - SPINE * deep[k]])), 0.6 if len(wide) else 0.4),
        "neck_top": FoundMark(frame.world(top), 0.6),
    }


def _middle(outline: Floats) -> float:
    """Depth of the centroid of the area inside a closed outline."""
    x, z = outline[:, 0], outline[:, 2]
    cross = x[:-1] * z[1:] - x[1:] * z[:-1]
    return float(((z[:-1] + z[1:]) * cross).sum() / (3 * cross.sum())) if abs(cross.sum()) > 1e-9 else float(z.mean())


def tongue_marks(head: FoundHead) -> Marks:
    """Tip and root of the tongue part; nothing where there is none."""
    tongue = next((p for p in head.pieces if p.part.kind == "tongue" and len(p.points)), None)
    if tongue is None or head.frame is None:
        return {}
    local = head.frame.local(tongue.points)
    end = TONGUE_END * float(np.ptp(local[:, 2]))
    ends = {"tip": local[:, 2] >= local[:, 2].max() - end, "root": local[:, 2] <= local[:, 2].min() + end}
    return {f"tongue_{name}": FoundMark(head.frame.world(_inside(local[chosen])), 0.85) for name, chosen in ends.items()}


def _inside(points: Floats) -> Floats:
    """The middle of the bounds: how densely an end is meshed does not matter."""
    return np.asarray((points.min(axis=0) + points.max(axis=0)) / 2)
