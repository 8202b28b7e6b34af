"""Test poses: which are shown, the values of their controls, names for new ones."""

from __future__ import annotations

from collections.abc import Mapping

from tightseam.document.free_name import free_name, plain_name
from tightseam.document.model import Character, Control, Pose


def rest_values(character: Character) -> dict[str, float]:
    """The rest value of every control."""
    return {c.name: c.rest for c in character.controls}


def away_from_rest(character: Character, values: Mapping[str, float]) -> dict[str, float]:
    """Those of the values that differ from where their controls rest; the bones' own rest at 0."""
    rest = rest_values(character)
    return {name: value for name, value in values.items() if value != rest.get(name, 0.0)}


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
    return free_name(plain_name(label, "pose"), taken)
