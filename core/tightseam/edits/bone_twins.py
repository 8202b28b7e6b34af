"""What edits of bones share: places, names, and what happens to twins."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from typing import Annotated

from pydantic import Field

from tightseam.document.errors import BadRequest
from tightseam.document.lookup import bone as find_bone
from tightseam.document.model import Bone, Character
from tightseam.edits.landmark_edits import Length

Place = tuple[Length, Length, Length]
SHORTEST = 1e-3  # cm between the ends of a bone
PLAIN_NAME = re.compile(r"[A-Za-z0-9_ .-]+")
Name = Annotated[str, Field(min_length=1, max_length=80)]


def twin_bone(character: Character, bone: Bone) -> Bone | None:
    return next((b for b in character.bones if b.name == bone.twin), None)


def and_twin(character: Character, name: str, mirror: bool) -> str:
    return " and its twin" if mirror and find_bone(character, name).twin else ""


def with_changed(character: Character, changed: dict[str, Bone]) -> Character:
    return replace(character, bones=tuple(changed.get(b.name, b) for b in character.bones))


def both_changed(character: Character, name: str, mirror: bool, change: Callable[[Bone], Bone]) -> Character:
    bone = find_bone(character, name)
    twin = twin_bone(character, bone) if mirror else None
    return with_changed(character, {b.name: change(b) for b in (bone, twin) if b is not None})


def check_free(character: Character, name: str, own: str | None) -> None:
    if not PLAIN_NAME.fullmatch(name) or name != name.strip():
        raise BadRequest(f"“{name}” is no name for a bone: use letters, digits, spaces, dots, dashes and underscores.")
    if name != own and any(b.name == name for b in character.bones):
        raise BadRequest(f"There is already a bone called “{name}”.")
