"""A head with all its parts, in the order in which they are listed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from tightseam.demo.brows import build_brow, build_lash
from tightseam.demo.cloth import build_collar
from tightseam.demo.eyes import build_eye
from tightseam.demo.hair_bun import hair_bun
from tightseam.demo.hair_sides import hair_sides
from tightseam.demo.hair_tousled import hair_tousled
from tightseam.demo.marks import place_marks
from tightseam.demo.moustache import build_moustache
from tightseam.demo.mouth_parts import build_teeth, build_tongue
from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array, smooth_step
from tightseam.demo.skin import build_skin

HAIR = {"bun": hair_bun, "tousled": hair_tousled, "sides": hair_sides}


@dataclass
class RawHead:
    parts: list[RawPart]
    landmarks: dict[str, Array]


def build_head(P: Head, seed: int = 7) -> RawHead:
    """All parts with their landmarks (name -> point (3,)), lifted so that the collar stands near y = 0."""
    rng = np.random.default_rng(seed)
    skin, half = build_skin(P)
    brow = build_brow(P, rng)
    lashes = [build_lash(P, skin, upper) for upper in (True, False)]
    hair, scalp = HAIR[P["hair_style"]](P, rng)
    paint_scalp(skin, scalp, P)
    parts = [skin, build_eye(P, 1), build_eye(P, -1), build_teeth(P, True), build_teeth(P, False), build_tongue(P)]
    parts += [brow, brow.mirrored("brow_R"), *lashes, *(lash.mirrored(lash.name[:-1] + "R") for lash in lashes), hair]
    if P["moustache"]:
        parts.append(build_moustache(P, rng))
    parts.append(build_collar(P))
    marks = place_marks(half, brow.points[brow.sets["body"]], P)  # single hairs would draw them up
    lift = np.array([0, P["lift"], 0])
    for part in parts:
        part.points = part.points + lift
    return RawHead(parts, {name: point + lift for name, point in marks.items()})


def paint_scalp(skin: RawPart, scalp: Array, P: Head) -> None:
    full, none = P["scalp_paint"]
    near = (1 - smooth_step(full, none, cKDTree(scalp).query(skin.points)[0]))[:, None]
    skin.colours = skin.colours * (1 - near) + np.array(P["hair_col"]) * 0.8 * near
