"""Chains of bones: those that hang on one another along a part."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tightseam.document.model import Bone, BoneRegion
from tightseam.geometry.types import Floats


def chain_of(bones: Sequence[Bone], region: BoneRegion) -> list[Bone]:
    """The deforming bones of a region that is a chain, from the root."""
    return [b for b in bones if b.region == region and b.role == "deform"]


def chain_joints(chain: Sequence[Bone]) -> Floats:
    """The joints (B + 1, 3) of a chain of B bones, cm: where each begins, and where the last one ends."""
    return np.array([b.base for b in chain] + [chain[-1].tip])
