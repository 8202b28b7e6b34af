"""Eye relief: lids swell over the eyeball and the cornea as it turns under them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.easing import smoothstep
from tightseam.geometry.samples import surface_samples
from tightseam.geometry.types import Floats, Ints
from tightseam.landmarks.regions import lids
from tightseam.landmarks.surface import Surface
from tightseam.lids.eye_profile import reach

SAFETY = 0.006  # cm that edges and faces of a lid keep from the eye
ROUNDS = 12


@dataclass(frozen=True)
class ReliefMap:
    """Skin vertices (K,) with amount 0..1, the clearance in cm that each keeps from the eye, and how far in cm it sinks back, (K,) each."""

    vertices: Ints
    amount: Floats
    clearance: Floats
    settle: Floats


def relief_map(surface: Surface, side: str, profile: Floats, centre: Floats) -> ReliefMap:
    """The first relief of one side's lids: each vertex keeps the distance it has at rest, fully at the margin, fading out at the fold."""
    rim = lids(surface, side)
    amount = np.where(rim.inside, 1.0, 0.0)
    for line, lid in ((rim.upper, "upper"), (rim.lower, "lower")):
        fold = rim.distance[surface.vertex(f"lid_fold_{lid}_{side}")]
        patch = rim.nearest_to(line) & ~rim.inside
        amount[patch] = smoothstep((1.6 - rim.distance[patch] / fold) / 0.9)
    vertices = np.flatnonzero(amount > 0)
    points = surface.points[vertices]
    raised = np.linalg.norm(points - centre, axis=1) - clearance_of(points, profile, centre, np.eye(3)) - profile.min()
    return ReliefMap(vertices, amount[vertices], clearance_of(points, profile, centre, np.eye(3)), np.maximum(raised, 0))


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


def loosen_closing(surface: Surface, closing: Floats, relief: ReliefMap, profile: Floats, centre: Floats, turns: list[Floats]) -> Floats:
    """The closing (N, 3) with just enough slack that edges and faces of the lids clear the eye too, half and fully closed, for all `turns`.

    The lining is stretched when a lid closes, and a long straight edge cuts a round cornea between two vertices that clear it.
    """
    closing = closing.copy()
    inside = np.zeros(len(surface.points), bool)
    inside[relief.vertices] = relief.amount > 0.99
    patch = surface.triangles[inside[surface.triangles].all(axis=1)]
    mix, owners = surface_samples(patch, len(surface.points))
    for _ in range(ROUNDS):
        slack = np.zeros(len(surface.points))
        for strength in (0.5, 1.0):
            for turn in turns:
                posed = apply_relief(surface.points + strength * closing, relief, profile, centre, turn)
                lack = np.maximum(SAFETY - clearance_of(mix @ posed, profile, centre, turn), 0) / strength
                for corner in owners.T:
                    np.maximum.at(slack, corner, lack)
        if slack.max() == 0:
            break
        arm = surface.points + closing - centre
        closing += arm * (1.2 * slack / np.linalg.norm(arm, axis=1))[:, None]
    return closing
