"""The poses in which the mouth is tried: every way of the jaw, with sealed lips and without."""

from __future__ import annotations

from dataclasses import dataclass

from tightseam.document.model import Character
from tightseam.document.poses import far_end, rest_values
from tightseam.jaw.movement import SIDE, THRUST, driver, opened

OPENINGS = (0.25, 0.5, 0.75, 1.0)
PARTED = 0.5


@dataclass(frozen=True)
class JawPose:
    """A pose in words, what it claims to close, and the values of all controls."""

    label: str
    values: dict[str, float]
    closes: tuple[str, ...] = ()


def jaw_poses(character: Character) -> list[JawPose]:
    """Opening alone and sealed, the jaw to both sides and forward and back, closed and half open."""
    rest = rest_values(character)
    found = [JawPose(f"jaw open {share:.0%}", opened(character, share)) for share in OPENINGS]
    seals = {c.name: far_end(c) for c in character.controls if any(n.kind == "seal" for n in c.links) and _seals_alone(character, c.name)}
    if seals:
        found += [JawPose(f"jaw open {share:.0%}, lips sealed", opened(character, share) | seals, ("lips",)) for share in OPENINGS]
        found += [JawPose("jaw open 100%, lips half sealed", opened(character, 1) | {n: v / 2 for n, v in seals.items()})]
    for name, low, high in ((SIDE, "jaw to the right", "jaw to the left"), (THRUST, "jaw back", "jaw thrust")):
        control = driver(character, name)
        if control is None or any(n.axis == "x" and n.by == "turn" for n in control.links):
            continue
        for end, said in ((control.low, low), (control.high, high)):
            if end != control.rest:
                found.append(JawPose(said, rest | {control.name: end}))
                found.append(JawPose(f"{said}, open {PARTED:.0%}", opened(character, PARTED) | {control.name: end}))
                if seals:
                    found.append(JawPose(f"{said}, lips sealed", rest | {control.name: end} | seals, ("lips",)))
    return found


def _seals_alone(character: Character, name: str) -> bool:
    """Does a control do nothing but seal lips?"""
    return all(n.kind == "seal" for c in character.controls if c.name == name for n in c.links)
