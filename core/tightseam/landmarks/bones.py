"""Bones from landmarks."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.document.make import make_point
from tightseam.document.model import Bone, Side
from tightseam.geometry.types import Floats

EYE_LENGTH = 2.5  # cm, how far an eye bone reaches forward
TONGUE_BONES = 3


def build_bones(marks: Mapping[str, Floats], upper_teeth: Floats, lower_teeth: Floats) -> tuple[Bone, ...]:
    """Neck (2), head, jaw, eyes, teeth and tongue (3). `upper_teeth` and `lower_teeth` are the middles of those parts, (3,)."""
    base, top = marks["neck_base"], marks["neck_top"]
    middle = (base + top) / 2
    hinge = (marks["jaw_hinge_L"] + marks["jaw_hinge_R"]) / 2
    forward = np.array([0, 0, EYE_LENGTH])
    bones = [
        _bone("neck_1", "Neck 1", None, base, middle),
        _bone("neck_2", "Neck 2", "neck_1", middle, top),
        _bone("head", "Head", "neck_2", top, marks["crown"]),
        _bone("jaw", "Jaw", "head", hinge, marks["chin_front"]),
        _bone("eye_L", "Eye bone L", "head", marks["eye_centre_L"], marks["eye_centre_L"] + forward, "L"),
        _bone("eye_R", "Eye bone R", "head", marks["eye_centre_R"], marks["eye_centre_R"] + forward, "R"),
        _bone("teeth_upper", "Teeth on skull", "head", upper_teeth, upper_teeth + forward / 2),
        _bone("teeth_lower", "Teeth on jaw", "jaw", lower_teeth, lower_teeth + forward / 2),
    ]
    root, tip = marks["tongue_root"], marks["tongue_tip"]
    joints = [root + (tip - root) * k / TONGUE_BONES for k in range(TONGUE_BONES + 1)]
    for k in range(TONGUE_BONES):
        parent = "jaw" if k == 0 else f"tongue_{k}"
        bones.append(_bone(f"tongue_{k + 1}", f"Tongue {k + 1}", parent, joints[k], joints[k + 1]))
    return tuple(bones)


def _bone(name: str, label: str, parent: str | None, head: Floats, tail: Floats, side: Side = "C") -> Bone:
    return Bone(name, label, parent, make_point(head), make_point(tail), side)
