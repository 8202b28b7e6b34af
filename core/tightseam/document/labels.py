"""Names as people read them."""

from __future__ import annotations

from tightseam.document.channels import Channel, channels, strength_of
from tightseam.document.model import Character
from tightseam.document.mouth_model import CORNERS, SEALS


def part_label(name: str) -> str:
    """ "teeth_lower" is "Teeth lower", "eye_L" is "Eye L"."""
    plain = name.replace("_", " ")
    return plain[:1].upper() + plain[1:]


def counted(count: int, one: str, many: str) -> str:
    """ "1 bone", "3 bones"."""
    return f"{count} {one if count == 1 else many}"


def vertices_said(count: int) -> str:
    """ "1 vertex", "3 vertices"."""
    return counted(count, "vertex", "vertices")


def control_label(character: Character, name: str) -> str:
    """A control by its label; "Jaw turned about x", "Jaw moved along x" and "Strength of Smile" what bones and shapes have of their own."""
    labels = {c.name: c.label for c in character.controls}
    if name in labels:
        return labels[name]
    own = channels(character.bones).get(name)
    if own is not None:
        return channel_label(next(b.label for b in character.bones if b.name == own.bone), own)
    return next((f"Strength of {s.label}" for s in character.shapes if strength_of(s.name) == name), name)


def channel_label(bone: str, channel: Channel) -> str:
    """ "Jaw turned about x", from the label of the bone."""
    return f"{bone} {'turned about' if channel.kind == 'turn' else 'moved along'} {channel.axis}"


def target_label(character: Character, kind: str, target: str) -> str:
    """What a link of a kind drives: a shape, bone, relief or control by its label, a lid, a seal or a corner by what it is called."""
    c = character
    labels = {
        "shape": {x.name: x.label for x in c.shapes},
        "bone": {x.name: x.label for x in c.bones},
        "relief": {x.name: x.label for x in c.reliefs},
        "control": {x.name: x.label for x in c.controls},
        "seal": {name: part_label(f"lip_{name}") for name in SEALS},
        "corner": {name: part_label(f"mouth_{name}") for name in CORNERS},
    }
    return labels.get(kind, {}).get(target) or part_label(target)
