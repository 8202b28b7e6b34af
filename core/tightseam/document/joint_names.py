"""What bones are called in files that name everything alike."""

from __future__ import annotations

from tightseam.document.model import Character


def joint_names(character: Character) -> dict[str, str]:
    """What the joint of each bone is called in a GLB. A receiver that wants unique names would rename one that is called like a part."""
    parts = {p.name for p in character.parts}
    names = {b.name: b.export or b.name for b in character.bones}
    return {bone: f"{name}_joint" if name in parts else name for bone, name in names.items()}
