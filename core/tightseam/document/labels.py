"""Names as people read them."""

from __future__ import annotations

from tightseam.document.model import Character
from tightseam.document.mouth_model import CORNERS, SEALS


def part_label(name: str) -> str:
    """ "teeth_lower" is "Teeth lower", "eye_L" is "Eye L"."""
    plain = name.replace("_", " ")
    return plain[:1].upper() + plain[1:]


def vertices_said(count: int) -> str:
    """ "1 vertex", "3 vertices"."""
    return "1 vertex" if count == 1 else f"{count} vertices"


def control_label(character: Character, name: str) -> str:
    """A control by its label; a bone's own by its name."""
    return next((c.label for c in character.controls if c.name == name), name)


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
