"""Eye relief: lids swell over the eyeball and the cornea as it turns under them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.deform.eye_profile import reach
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.types import Floats, Ints
from tightseam.head.regions import Rim
from tightseam.head.surface import Surface


@dataclass(frozen=True)
class ReliefMap:
    """Skin vertices (K,) with amount 0..1, the clearance in cm that each keeps from the eye, and how far in cm it sinks back, (K,) each."""

    vertices: Ints
    amount: Floats
    clearance: Floats
    settle: Floats


def relief_map(surface: Surface, rim: Rim, side: str, profile: Floats, centre: Floats) -> ReliefMap:
    """The first relief of one side's lids: each vertex keeps the distance it has at rest, fully at the margin, fading out at the fold."""
    amount = np.where(rim.inside, 1.0, 0.0)
    for line, lid in ((rim.upper, "upper"), (rim.lower, "lower")):
        fold = rim.reach(surface, f"lid_fold_{lid}_{side}")
        patch = rim.nearest_to(line) & ~rim.inside
        amount[patch] = smoothstep((1.6 - rim.distance[patch] / fold) / 0.9)
    vertices = np.flatnonzero(amount > 0)
    return ReliefMap(vertices, amount[vertices], *resting(surface.points[vertices], centre, profile))


def resting(points: Floats, centre: Floats, profile: Floats) -> tuple[Floats, Floats]:
    """For skin points (K, 3) at rest: the clearance (K,) in cm from the eye that looks straight ahead, and how far (K,) the cornea raises
    them above its white."""
    clearance = clearance_of(points, profile, centre, np.eye(3))
    raised = np.linalg.norm(points - centre, axis=1) - clearance - profile.min()
    return clearance, np.maximum(raised, 0)


def clearance_of(points: Floats, profile: Floats, centre: Floats, turn: Floats) -> Floats:
    """Distance (K,) in cm along the ray from the eye's centre by which points stand off an eye turned by `turn` (3, 3)."""
    arm = points - centre
    radius = np.linalg.norm(arm, axis=1)
    return np.asarray(radius - reach(profile, (arm @ turn) / radius[:, None]))


def apply_relief(points: Floats, relief: ReliefMap, profile: Floats, centre: Floats, turn: Floats) -> Floats:
    """Points (N, 3) with the relieved vertices moved along the rays from the eye's centre.

    Out as far as the eye demands; in no farther than the cornea at rest had raised them.
    """
    moved = points.copy()
    arm = points[relief.vertices] - centre
    lack = np.maximum(relief.clearance - clearance_of(points[relief.vertices], profile, centre, turn), -relief.settle)
    moved[relief.vertices] += arm * (relief.amount * lack / np.linalg.norm(arm, axis=1))[:, None]
    return moved
