"""Bones on the other side of a head."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.document.make import make_point
from tightseam.document.model import Bone, Span
from tightseam.geometry.symmetry import Plane
from tightseam.landmarks.bones.maker import turn_of


def mirrored_place(bone: Bone, twin: Bone, plane: Plane) -> Bone:
    """The twin with ends and axes at the mirror image of a bone's.

    Its x is turned round once more, so that it still points to the character's left: turning both by the same value about x does
    the same on both sides, about y and z it does the opposite.
    """
    base, tip = (make_point(plane.mirrored(np.array([p]))[0]) for p in (bone.base, bone.tip))
    axes = np.array(bone.axes).reshape(3, 3)
    axes = axes - 2 * (axes @ plane.normal)[:, None] * plane.normal
    axes[0] = -axes[0]
    return replace(twin, base=base, tip=tip, axes=turn_of(axes), by_hand=bone.by_hand)


def mirrored_limits(bone: Bone, twin: Bone) -> Bone:
    """The twin with limits that let it do in the mirror what a bone may do."""
    (tx, ty, tz), (mx, my, mz) = bone.turn, bone.move
    return replace(twin, turn=(tx, _turned(ty), _turned(tz)), move=(_turned(mx), my, mz))


def _turned(span: Span) -> Span:
    return (-span[1] or 0.0, -span[0] or 0.0)
