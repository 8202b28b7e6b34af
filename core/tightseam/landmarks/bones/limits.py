"""How far the bones of each region turn and move of their own."""

from __future__ import annotations

from tightseam.document.model import FIXED, BoneRegion, Spans


def _even(x: float, y: float, z: float) -> Spans:
    return ((-x, x), (-y, y), (-z, z))


# degrees about and cm along x (the character's left), y (up), z (forward); positive x nods down, positive y turns left
TURNS: dict[BoneRegion, Spans] = {
    "head": ((-45, 45), (-70, 70), (-35, 35)),
    "neck": ((-30, 30), (-40, 40), (-25, 25)),
    "jaw": ((-4, 35), (-12, 12), (-6, 6)),
    "eyes": ((-35, 35), (-45, 45), (-10, 10)),
    "lids": ((-50, 50), (-8, 8), (-15, 15)),
    "brows": _even(25, 25, 35),
    "mouth": _even(35, 25, 35),
    "cheeks": _even(20, 20, 20),
    "nose": _even(20, 15, 15),
    "ears": _even(20, 30, 20),
    "tongue": ((-60, 60), (-50, 50), (-30, 30)),
    "teeth": _even(5, 5, 5),
    "other": _even(180, 180, 180),
}
MOVES: dict[BoneRegion, Spans] = {
    "jaw": ((-0.8, 0.8), (-0.3, 0.3), (-0.4, 1.0)),
    "brows": _even(0.6, 1.5, 0.5),
    "mouth": _even(1.2, 1.2, 1.2),
    "cheeks": _even(0.8, 1.0, 0.8),
    "nose": _even(0.5, 0.5, 0.5),
    "tongue": ((-0.4, 0.4), (-0.4, 0.4), (-0.5, 1.5)),
    "teeth": _even(0.3, 0.3, 0.3),
}


def turns_of(region: BoneRegion) -> Spans:
    return TURNS[region]


def moves_of(region: BoneRegion) -> Spans:
    return MOVES.get(region, FIXED)
