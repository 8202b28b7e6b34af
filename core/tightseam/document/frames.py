"""Frames of bones: their axes and heads as matrices."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tightseam.document.model import Bone
from tightseam.geometry.types import Floats, Ints


def rest_frames(bones: Sequence[Bone]) -> Floats:
    """Where each bone stands in the neutral, (B, 4, 4): its axes as columns, its head as the shift in cm."""
    frames = np.tile(np.eye(4), (len(bones), 1, 1))
    frames[:, :3, :3] = np.array([b.axes for b in bones]).reshape(-1, 3, 3).transpose(0, 2, 1)
    frames[:, :3, 3] = np.array([b.base for b in bones]).reshape(-1, 3)
    return frames


def parent_numbers(bones: Sequence[Bone]) -> Ints:
    """The number of each bone's parent, (B,), -1 for none."""
    row = {bone.name: k for k, bone in enumerate(bones)}
    return np.array([-1 if bone.parent is None else row[bone.parent] for bone in bones], np.int64)


def local_frames(frames: Floats, parents: Ints) -> Floats:
    """Frames (B, 4, 4) as seen from those of their parents; `parents` (B,), -1 for none."""
    return np.array([f if p < 0 else np.linalg.inv(frames[p]) @ f for f, p in zip(frames, parents, strict=True)]).reshape(-1, 4, 4)
