"""Where a head belongs on a skeleton that is not ours: its head bone, the neck below it, and what both hang on."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from tightseam.document.errors import BadRequest
from tightseam.document.model import Bone

WORD = re.compile(r"[a-z]+")


@dataclass(frozen=True)
class Spine:
    """The bone of the head, those of the neck from below, and the bone `under` them, None where they hang on nothing. What hangs on the
    head is its face."""

    head: Bone
    neck: tuple[Bone, ...]
    under: Bone | None
    face: tuple[Bone, ...]

    @property
    def replaced(self) -> tuple[Bone, ...]:
        """What a head of its own takes the place of."""
        return (self.head, *self.neck, *self.face)


def find_spine(bones: Sequence[Bone]) -> Spine:
    """By name: the head is called so, alone or with other words, and of several it is the one that stands lowest in the chain. BadRequest
    where there is none."""
    named = {b.name: b for b in bones}
    heads = [b for b in bones if "head" in _words(b)]
    if not heads:
        raise BadRequest("This skeleton has no bone called head, so there is no place for ours.")
    head = min(heads, key=lambda b: len(_above(b, named)))
    above = _above(head, named)
    neck = []
    for bone in above:
        if "neck" not in _words(bone):
            break
        neck.append(bone)
    under = above[len(neck)] if len(above) > len(neck) else None
    face = tuple(b for b in bones if head in _above(b, named))
    return Spine(head, tuple(reversed(neck)), under, face)


def _words(bone: Bone) -> set[str]:
    """ "Neck_01", "mixed:Head" and "headTop" in words of small letters."""
    split = re.sub(r"([a-z])([A-Z])", r"\1 \2", f"{bone.name} {bone.label}").lower()
    return set(WORD.findall(split.replace("_", " ")))


def _above(bone: Bone, named: dict[str, Bone]) -> list[Bone]:
    """Its parents, from the next to the root."""
    found: list[Bone] = []
    while bone.parent is not None and bone.parent in named and len(found) <= len(named):
        bone = named[bone.parent]
        found.append(bone)
    return found
