"""Patches of one open skin against one another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.contact.tree import PosedTree
from tightseam.geometry.normals import face_normals
from tightseam.geometry.types import Bools, Floats


@dataclass(frozen=True)
class PatchDistance:
    """Signed distance (S,) in cm of samples to an open patch, and where it may be believed (S,)."""

    signed: Floats
    facing: Bools


def patch_distance(samples: Floats, sample_normals: Floats, patch: PosedTree, reach: float) -> PatchDistance:
    """Distance of oriented samples (S, 3) to an oriented open patch, negative behind it.

    Only pairs whose normals oppose count, within `reach` cm: behind an open sheet everything is "inside", so that
    distance alone would call the back of a cheek an overlap of the lips.
    """
    distance, face, closest = patch.closest(samples)
    normals = face_normals(patch.points, patch.tree.triangles)[face]
    facing = ((normals * sample_normals).sum(axis=1) < 0) & (distance < reach)
    side = np.sign(((samples - closest) * normals).sum(axis=1))
    return PatchDistance(np.where(side < 0, -distance, distance), facing)
