"""Things of a character under other names, wherever the document speaks of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from tightseam.document.channels import channels, strength_of
from tightseam.document.fields import Named, Noun, Refers
from tightseam.document.model import Bone, Character
from tightseam.document.walk import Field, rewritten


def renamed(character: Character, noun: Noun, names: Mapping[str, str]) -> Character:
    """The character with some parts, bones, shapes, ... under other names (old -> new); names may be exchanged."""
    known = {noun: dict(names), "channel": _channels(character, noun, names)}

    def named(field: Field) -> Any:
        mark = field.mark(Named) or field.mark(Refers)
        if mark is None:
            return field.value
        of = mark.noun or (field.beside(mark.noun_in) if isinstance(mark, Refers) else None)
        return known.get(of, {}).get(field.value, field.value)

    return rewritten(character, named)


def with_bones_renamed(character: Character, names: Mapping[str, str]) -> Character:
    """As `renamed`; each bone keeps in mind the name it was made under."""
    changed = renamed(character, "bone", names)
    return replace(changed, bones=tuple(map(_with_origin, changed.bones, character.bones)))


def with_shapes_renamed(character: Character, names: Mapping[str, str]) -> Character:
    """As `renamed`; shapes carry their new names as labels as well."""
    changed = renamed(character, "shape", names)
    shapes = zip(changed.shapes, character.shapes, strict=True)
    return replace(changed, shapes=tuple(replace(new, label=new.name) if new.name != old.name else new for new, old in shapes))


def _channels(character: Character, noun: Noun, names: Mapping[str, str]) -> dict[str, str]:
    """What the controls are called that the things have of their own, old -> new."""
    if noun == "control":
        return dict(names)
    if noun == "shape":
        return {strength_of(old): strength_of(new) for old, new in names.items()}
    if noun == "bone":
        return {n: names[c.bone] + n[len(c.bone) :] for n, c in channels(character.bones).items() if c.bone in names}
    return {}


def _with_origin(bone: Bone, before: Bone) -> Bone:
    first = before.made_as or before.name
    return bone if bone.name == before.name else replace(bone, made_as=None if first == bone.name else first)
