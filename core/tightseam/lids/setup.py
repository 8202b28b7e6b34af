"""The lids of an eye set up from landmarks and loops, so that clean heads close well before any tuning."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from tightseam.deform.eyes import eye_ball
from tightseam.deform.lids import LidTurning
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import CurveKey, CurveKeys, EyeRelief, GazeFollow, Lids, Part, Side
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.regions import Rim, lids
from tightseam.head.surface import Surface
from tightseam.lids.eye_relief import relief_map
from tightseam.lids.share import first_share
from tightseam.lids.swell import swell_to_clear

NEARER = 0.7  # of the way to its own lid that a foot must be from the other one to stand there
BESIDE = 0.2  # cm about a vertex of a lash in which its foot is looked for
MEETS_AT = 0.24  # height of the closed line between lower (0) and upper margin (1)


def _keys(*pairs: tuple[float, float]) -> CurveKeys:
    return tuple(CurveKey(at, value) for at, value in pairs)


LINE = _keys(*((at, MEETS_AT) for at in (0.0, 0.25, 0.5, 0.75, 1.0)))
SLIDE = _keys((-35, -3), (0, 0), (35, 3))
FOLLOW_UPPER = GazeFollow(_keys((-30, 0.5), (0, 0), (25, -0.22)), (), SLIDE)
FOLLOW_LOWER = GazeFollow(_keys((-30, -0.5), (0, 0), (25, 0.3)), (), SLIDE)


@dataclass(frozen=True)
class Eye:
    """An eye part: points (N, 3) cm, triangles, and on which side it is."""

    part: Part
    points: Floats
    triangles: Ints

    @property
    def side(self) -> Side:
        return self.part.side


def first_lids(
    surface: Surface, skin: str, eye: Eye, lashes: Mapping[str, Floats], store: ArrayStore, rim: Rim | None = None
) -> tuple[Lids, EyeRelief]:
    """Lids and eye relief of one eye, from landmarks and loops. `lashes` are the points (K, 3) of the parts that turn with its margins;
    `rim` is where these are, found from landmarks where it is not given.

    BadRequest where a landmark is missing, or no loop runs through those of the margin.
    """
    side = eye.side
    centre, profile = eye_ball(eye.part, store)
    rim = rim or lids(surface, side)
    share = first_share(surface, rim, side, centre)
    vertices = np.flatnonzero(share > 0)
    relief = relief_map(surface, rim, side, profile, centre)
    upper = rim.nearest_to(rim.upper)
    put = store.put
    moving = np.intersect1d(vertices, relief.vertices)
    roots = tuple((name, put(_lash_roots(surface, rim, moving, upper[moving], points))) for name, points in lashes.items())
    pair = Lids(
        eye.part.name,
        skin,
        side,
        put(rim.upper.astype(np.int32)),
        put(rim.lower.astype(np.int32)),
        put(vertices.astype(np.int32)),
        put(upper[vertices].astype(np.uint8)),
        put(share[vertices].astype(np.float32)),
        LINE,
        FOLLOW_UPPER,
        FOLLOW_LOWER,
        roots,
    )
    turning = LidTurning.of(surface.points, pair, store, centre)
    swell = swell_to_clear(surface.points, surface.triangles, turning, relief, profile)
    return pair, EyeRelief(
        eye.part.name,
        skin,
        put(relief.vertices.astype(np.int32)),
        put(relief.amount.astype(np.float32)),
        put(relief.clearance.astype(np.float32)),
        put(relief.settle.astype(np.float32)),
        roots,
        put(swell.astype(np.float32)),
    )


def _lash_roots(surface: Surface, rim: Rim, moving: Ints, upper: Bools, lash: Floats) -> Ints:
    """For each lash vertex the vertex of the skin it is rooted at, on the one lid whose margin it is nearest to: the one next to the foot
    of its hair, which of all that is near it is nearest to the margin. Skin beyond the margin turns less far than that does. At the
    corners, which both lids hold, it may be one of the other lid."""
    gap = [cKDTree(surface.points[line]).query(lash)[0] for line in (rim.upper, rim.lower)]
    side = int(gap[0].mean() > gap[1].mean())
    around = cKDTree(lash).query_ball_point(lash, BESIDE)
    stands = np.flatnonzero([gap[side][k] <= gap[side][near].min() for k, near in enumerate(around)])
    lid = moving[upper == (side == 0)]
    (far, own), (near, other) = (cKDTree(surface.points[x]).query(lash[stands]) for x in (lid, moving))
    root = np.where(near < NEARER * far, moving[other], lid[own])
    return np.asarray(root[cKDTree(lash[stands]).query(lash)[1]], np.int32)
