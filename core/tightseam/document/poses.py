"""Control values of the rest and of test poses."""

from __future__ import annotations

from tightseam.document.model import Character, Pose


def rest_values(character: Character) -> dict[str, float]:
    """The rest value of every control."""
    return {c.name: c.rest for c in character.controls}


def pose_values(character: Character, pose: Pose) -> dict[str, float]:
    """The value of every control in a pose."""
    return rest_values(character) | dict(pose.values)
