"""Weights by envelopes: capsules about bones."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tightseam.document.model import Bone
from tightseam.geometry.distance import segment_distance
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.types import Floats

INNER, OUTER = 0.25, 0.45  # of its length: the radii a bone starts with
LEAST = 0.4  # cm


def envelope_of(bone: Bone) -> tuple[float, float]:
    """Inner and outer radius of a bone's capsule, cm: as set by hand, or by its length."""
    if bone.envelope is not None:
        return bone.envelope
    length = float(np.linalg.norm(np.array(bone.tip) - np.array(bone.base)))
    return max(INNER * length, LEAST), max(OUTER * length, 2 * LEAST)


def envelope_weights(points: Floats, bones: Sequence[Bone]) -> Floats:
    """Weights (N, B), rows summing to one: all of a bone inside its inner radius, none outside the outer one, smooth between.

    Where capsules meet each gives in proportion; what none reaches goes to the bone whose capsule is nearest.
    """
    reached = np.zeros((len(points), len(bones)))
    beyond = np.empty_like(reached)
    for k, bone in enumerate(bones):
        inner, outer = envelope_of(bone)
        distance = segment_distance(points, np.array(bone.base), np.array(bone.tip))
        reached[:, k] = 1 - smoothstep((distance - inner) / max(outer - inner, 1e-9))
        beyond[:, k] = distance - outer
    bare = reached.sum(axis=1) <= 0
    reached[bare, beyond[bare].argmin(axis=1)] = 1
    return np.asarray(reached / reached.sum(axis=1, keepdims=True))
