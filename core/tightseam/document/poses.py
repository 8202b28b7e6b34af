"""Test poses: which are shown, the values of their controls, names for new ones."""

from __future__ import annotations

import re

from tightseam.document.model import Character, Control, Pose


def rest_values(character: Character) -> dict[str, float]:
    """The rest value of every control."""
    return {c.name: c.rest for c in character.controls}


def far_end(control: Control) -> float:
    """Where a control is farthest from its rest: its upper end, or the lower one where it rests at that."""
    return control.high if control.high != control.rest else control.low


def pose_values(character: Character, pose: Pose) -> dict[str, float]:
    """The value of every control in a pose."""
    return rest_values(character) | dict(pose.values)


def shown_poses(character: Character) -> tuple[Pose, ...]:
    """The poses of the strip: those that are drawn and measured."""
    return tuple(p for p in character.poses if not p.hidden)


def pose_name(label: str, taken: set[str]) -> str:
    """A name for a pose from its label, none of those `taken`."""
    plain = re.sub(r"\W+", "_", label.lower()).strip("_") or "pose"
    name, k = plain, 2
    while name in taken:
        name, k = f"{plain}_{k}", k + 1
    return name
