"""The starting set of expressions, from landmarks and surface falloffs."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.easing import smoothstep
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.types import Bools, Floats
from tightseam.head.flesh import Flesh
from tightseam.head.regions import Rim, across_mouth, lids, lips, mouth_width
from tightseam.head.surface import Surface
from tightseam.shapes.spread import spread

REFERENCE_WIDTH = 4.84  # cm between the mouth corners for which the figures below are meant
LINING_FADE = (0.4, 3.2)  # cm behind the lip line over which the lining stops following the lips


class MouthFrame:
    """The lips of a skin as a place to prescribe movement: t (0 middle, 1 corner), side, upper or lower, and how far to follow."""

    def __init__(self, surface: Surface) -> None:
        self.surface = surface
        rim = lips(surface)
        self.rim = rim
        self.t = across_mouth(surface, rim.nearest)
        self.side = np.sign(np.where(np.abs(surface.points[rim.nearest, 0]) > 1e-4, surface.points[rim.nearest, 0], 0))
        self.upper = np.where(rim.nearest_to(rim.upper), 1.0, -1.0)
        reach = np.where(self.upper > 0, rim.reach(surface, "lip_top"), rim.reach(surface, "lip_bottom"))
        self.follow = self.lining_follows(*LINING_FADE)
        self.prescribed = rim.inside | (rim.distance <= 1.05 * reach)
        self.scale = mouth_scale(surface)
        self.flesh = Flesh(surface, rim)

    def lining_follows(self, start: float, end: float) -> Floats:
        """1 on the lips, fading over the lining from `start` to `end` cm behind the lip line, (N,)."""
        return np.where(self.rim.inside, 1 - smoothstep((self.rim.distance - start) / (end - start)), 1.0)


def mouth_scale(surface: Surface) -> float:
    """How wide a mouth is against the reference."""
    return mouth_width(surface) / REFERENCE_WIDTH


def smile(surface: Surface) -> Floats:
    """Corners out, up and back; cheeks lifted. Offsets (N, 3) in cm."""
    m = MouthFrame(surface)
    t = m.t
    rise = t**3 * (2.5 - 1.5 * t**2)  # level in the middle, and level again at the corner, where the lips press on each other
    lips_move = np.column_stack([m.side * 0.56 * t, 0.66 * rise - 0.03 * (1 - t), -0.34 * t**1.5])
    offsets = spread_from_lips(m, lips_move, reach=3.2)
    for side, sign in (("L", 1.0), ("R", -1.0)):
        cheek = surface.mark(f"cheek_{side}") - [0, 0.3, 0]
        bump = np.exp(-(((surface.points - cheek) / [1.9, 1.4, 2.5]) ** 2).sum(axis=1))
        bump[m.prescribed | held_still(surface, m.rim)] = 0
        offsets += bump[:, None] * [sign * 0.12, 0.24, 0.28]
        offsets += cheek_fold(m, side, sign)
    return m.flesh.kept_behind(offsets)


def cheek_fold(m: MouthFrame, side: str, sign: float) -> Floats:
    """The fold from the nose wing past the mouth corner: a groove with a swelling on its outer side. Offsets (N, 3) in cm."""
    surface = m.surface
    start = surface.mark(f"nose_wing_{side}") + np.array([sign * 0.35, -0.3, 0])
    end = surface.mark(f"mouth_corner_{side}") + np.array([sign * 1.05, -0.35, 0]) * m.scale
    along = end[:2] - start[:2]
    length = float(np.linalg.norm(along))
    along = along / length
    across = np.array([-along[1], along[0]]) * sign  # away from the middle
    q = surface.points[:, :2] - start[:2]
    s, d = q @ along / length, q @ across
    ends = np.exp(-((np.maximum(np.abs(s - 0.5) - 0.3, 0) / 0.25) ** 2))
    depth = 0.15 * np.exp(-(((d - 0.75) / 0.5) ** 2)) - 0.12 * np.exp(-((d / 0.38) ** 2))
    front = surface.points[:, 2] > surface.mark(f"jaw_hinge_{side}")[2] + 2
    depth[m.prescribed | held_still(surface, m.rim) | ~front] = 0
    return (depth * ends)[:, None] * vertex_normals(surface.points, surface.triangles)


def pucker(surface: Surface) -> Floats:
    """Lips drawn together and forward. Offsets (N, 3) in cm."""
    m = MouthFrame(surface)
    inward = -0.20 * surface.points[m.rim.nearest, 0] / m.scale * m.lining_follows(0.05, 1.3)
    lips_move = np.column_stack([inward, np.zeros_like(m.t), np.full_like(m.t, 0.70)])
    return spread_from_lips(m, lips_move, reach=2.6)


def jaw_open_relief(surface: Surface) -> Floats:
    """What the corners and cheeks do of their own accord as the jaw opens: drawn in a little, so that the opening stays round; more, and
    the lips fold over each other there."""
    m = MouthFrame(surface)
    lips_move = np.column_stack([-m.side * 0.06 * m.t**3, np.zeros_like(m.t), 0.05 * m.t**2])
    return spread_from_lips(m, lips_move, reach=2.2)


def spread_from_lips(m: MouthFrame, lips_move: Floats, reach: float) -> Floats:
    offsets = lips_move * (m.scale * m.follow)[:, None]
    held = held_still(m.surface, m.rim) & ~m.prescribed
    return m.flesh.kept_behind(spread(m.surface, m.prescribed, offsets, held, reach))


def held_still(surface: Surface, mouth: Rim) -> Bools:
    """What no mouth shape may move: lids up to the fold, nose, skull, neck."""
    p = surface.points
    held = p[:, 2] < surface.mark("jaw_hinge_L")[2] + 2
    held |= p[:, 1] > surface.mark("eye_centre_L")[1]
    for side in "LR":
        rim = lids(surface, side)
        held |= rim.inside | (rim.distance <= rim.reach(surface, f"lid_fold_lower_{side}"))
    tip, wing = surface.mark("nose_tip"), surface.mark("nose_wing_L")
    nose = (np.abs(p[:, 0]) < np.abs(wing[0])) & (p[:, 1] > tip[1]) & (p[:, 2] > tip[2] - 3)
    return (held | nose) & ~mouth.inside


def brows_up(surface: Surface, brows: Floats) -> Floats:
    """Forehead and brows lifted. `brows` (K, 3) are points of the brow parts. Offsets (N, 3) in cm."""
    p = surface.points
    lift = 0.10 * float(np.linalg.norm(surface.mark("brow_outer_L") - surface.mark("brow_outer_R")))
    prescribed = np.zeros(len(p), bool)
    prescribed[surface.nearest_vertices(brows)] = True
    held = p[:, 2] < surface.mark("jaw_hinge_L")[2] + 3
    held |= p[:, 1] < surface.mark("eye_centre_L")[1]
    held |= p[:, 1] > surface.mark("brow_middle_L")[1] + 4.5
    for side in "LR":
        rim = lids(surface, side)
        fold = np.where(rim.nearest_to(rim.upper), rim.reach(surface, f"lid_fold_upper_{side}"), 1.5)
        held |= rim.inside | (rim.distance <= 1.1 * fold)
    return spread(surface, prescribed & ~held, np.tile([0, lift, -0.06], (len(p), 1)), held, reach=2.5)
