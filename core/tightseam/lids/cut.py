"""A flat cut through the lids of a posed head, across the way from corner to corner."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from tightseam.deform.compare import in_head
from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats
from tightseam.lids.eye_relief import clearance_of

REACH = 2.4  # eye radii from the eye's centre that are drawn


@dataclass(frozen=True)
class LidCut:
    """Lines (K, 2) in mm, forward and up about the eye's centre, of the skin and of the eye; where along the skin's lines it is nearest to
    the eye or deepest in it, (2,), and by how much, mm, negative where it overlaps."""

    skin: tuple[Floats, ...]
    eye: tuple[Floats, ...]
    contact: Floats
    clearance: float


def lid_cut(evaluator: Evaluator, side: str, at: float, values: Mapping[str, float]) -> LidCut:
    """The cut at a place from the inner (0) to the outer corner (1). BadRequest where the eye has no lids or the place is beyond them."""
    found = next((k for k, pair in enumerate(evaluator.character.lids) if pair.side == side), None)
    if found is None:
        raise BadRequest(f"The eye {side} has no lids set up yet.")
    if not 0 <= at <= 1:
        raise BadRequest("A section lies between the inner corner (0) and the outer one (1).")
    skin, (lids, _, number) = evaluator.character.lids[found].skin, evaluator.rig.closing[found]
    arc, eye, meshes = lids.turning.arc, lids.eye, evaluator.meshes
    posed = evaluator.points(values).astype(float)
    matrices = evaluator.matrices(values)
    to_head = evaluator.to_head(matrices)
    eyes = evaluator.rig.posed_eyes(matrices)
    turn, centre = eyes.turns[number], eyes.centres[number]
    plane = Plane(arc.centre + (arc.inner + at * arc.length) * arc.axes[0], arc.axes[0])

    def flat(points: Floats) -> Floats:
        return np.asarray(CM_TO_MM * (points - arc.centre) @ arc.axes[[2, 1]].T)

    drawn: dict[str, tuple[Floats, ...]] = {}
    stands: list[tuple[float, Floats]] = []
    for name in (skin, eye.part):
        points = in_head(posed[meshes.rows(name)], to_head)
        triangles = meshes.part_triangles[meshes.names.index(name)]
        near = np.linalg.norm(points - centre, axis=1) < REACH * eye.profile.max()
        lines = []
        for line in section(points, triangles[near[triangles].all(axis=1)], plane):
            lines.append(flat(line.outline))
            ahead = line.points[(line.points - centre) @ arc.axes[2] > 0]  # behind its equator the eye lies in the head
            if name == skin and len(ahead):
                off = clearance_of(ahead, eye.profile, centre, turn)
                k = int(off.argmin())
                stands.append((float(off[k]) * CM_TO_MM, flat(ahead[k])))
        drawn[name] = tuple(lines)
    clearance, contact = min(stands, key=lambda found: found[0], default=(0.0, np.zeros(2)))
    return LidCut(drawn[skin], drawn[eye.part], contact, clearance)
