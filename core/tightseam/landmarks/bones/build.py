"""A skeleton from landmarks."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.document.model import Bone, Skeleton
from tightseam.document.twins import with_twins
from tightseam.geometry.types import Floats
from tightseam.landmarks.bones.face import add_brows, add_cheeks, add_ears, add_lids, add_lips, add_nose
from tightseam.landmarks.bones.maker import BoneMaker, axes_along

EYE_LENGTH = 2.5  # cm, how far an eye bone reaches forward
FACE_BONES = ("bones", "both")


def build_bones(
    choices: Skeleton, marks: Mapping[str, Floats], teeth: Mapping[str, Floats] | None = None, axes: Floats | None = None
) -> tuple[Bone, ...]:
    """Neck, head, jaw, eyes, teeth and tongue, and of the face what `choices` asks for; parents stand before children.

    `marks` are landmarks (name -> point (3,) cm), `teeth` the middles of "upper" and "lower" teeth where there are any, rows of
    `axes` (3, 3) the head's left, up and forward. BadRequest names a landmark that is missing.
    """
    maker = BoneMaker(marks, np.eye(3) if axes is None else axes)
    _add_neck(maker, choices.neck)
    _add_jaw(maker)
    forward = maker.axes[2] * EYE_LENGTH
    for side in ("L", "R"):
        if f"eye_centre_{side}" in marks:
            centre = maker.mark(f"eye_centre_{side}", "An eye")
            maker.add(f"eye_{side}", f"Eye bone {side}", "head", centre, centre + forward, "eyes")
    for place, carrier, parent in (("upper", "skull", "head"), ("lower", "jaw", "jaw")):
        middle = (teeth or {}).get(place)
        if middle is not None:
            maker.add(f"teeth_{place}", f"Teeth on {carrier}", parent, middle, middle + forward / 2, "teeth")
    if choices.tongue:
        _add_tongue(maker, choices.tongue)
    if choices.face in FACE_BONES:
        add_brows(maker, choices.brows)
        add_lids(maker, choices.lids)
        add_lips(maker, choices.lips)
        if choices.cheeks:
            add_cheeks(maker)
        if choices.nose:
            add_nose(maker)
    if choices.ears:
        add_ears(maker)
    return with_twins(maker.bones)


def _add_neck(maker: BoneMaker, count: int) -> None:
    base, top = maker.mark("neck_base", "The neck"), maker.mark("neck_top", "The neck")
    joints = np.linspace(base, top, count + 1)
    parent = None
    for k in range(count):
        parent = maker.add(f"neck_{k + 1}", f"Neck {k + 1}", parent, joints[k], joints[k + 1], "neck")
    maker.add("head", "Head", parent, top, maker.mark("crown", "The head"), "head")


def _add_jaw(maker: BoneMaker) -> None:
    """The jaw turns about the line through both hinges."""
    left, right = maker.mark("jaw_hinge_L", "The jaw"), maker.mark("jaw_hinge_R", "The jaw")
    axes = axes_along(left - right, maker.axes[2])
    maker.add("jaw", "Jaw", "head", (left + right) / 2, maker.mark("chin_front", "The jaw"), "jaw", axes=axes)


def _add_tongue(maker: BoneMaker, count: int) -> None:
    if "tongue_root" not in maker.marks and "tongue_tip" not in maker.marks:
        return  # a head without a tongue
    root, tip = maker.mark("tongue_root", "The tongue"), maker.mark("tongue_tip", "The tongue")
    joints = np.linspace(root, tip, count + 1)
    parent = "jaw"
    for k in range(count):
        parent = maker.add(f"tongue_{k + 1}", f"Tongue {k + 1}", parent, joints[k], joints[k + 1], "tongue")
