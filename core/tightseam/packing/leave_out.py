"""What of a character stays at home, and what its face will miss."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from tightseam.document.arrays import ArrayStore
from tightseam.document.change_bones import hanging_on, with_bones
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.model import Character
from tightseam.document.removal import without


@dataclass(frozen=True)
class LeaveOut:
    """Parts, bones and shapes by name. What a bone carries goes to the nearest above it that stays."""

    parts: tuple[str, ...] = ()
    bones: tuple[str, ...] = ()
    shapes: tuple[str, ...] = ()


def with_less(character: Character, store: ArrayStore, less: LeaveOut) -> tuple[Character, list[str]]:
    """The character without what is left out, and in sentences what the face misses of it. BadRequest for what is not there, and where
    nothing would be left."""
    for kind, names, things in (
        ("part", less.parts, character.parts),
        ("bone", less.bones, character.bones),
        ("shape", less.shapes, character.shapes),
    ):
        _check(kind, names, {x.name for x in things})
    if len(set(less.parts)) == len(character.parts):
        raise BadRequest("A package needs at least one part.")
    told = [*_missing_parts(character, less.parts), *hanging_on(character, less.bones), *_missing_shapes(character, less.shapes)]
    left = without(without(character, "part", less.parts), "shape", less.shapes)
    if less.bones:
        left = with_bones(left, [b for b in left.bones if b.name not in less.bones], store)
    return left, told


def _check(kind: str, names: Collection[str], there: Collection[str]) -> None:
    for name in names:
        if name not in there:
            raise BadRequest(f"There is no {kind} “{name}” that could be left out.")


def _missing_parts(character: Character, names: Collection[str]) -> list[str]:
    found = []
    for binding in character.bindings:
        if binding.ride is not None and binding.ride.on in names and binding.part not in names:
            found.append(f"{part_label(binding.part)} rides on {part_label(binding.ride.on)}, and will stay where it is.")
    for pair in character.lids:
        if pair.eye in names and pair.skin not in names:
            found.append(f"The lids of {part_label(pair.eye)} close about it, and will not close.")
    return found


def _missing_shapes(character: Character, names: Collection[str]) -> list[str]:
    found = []
    for control in character.controls:
        driven = [n.target for n in control.links if n.kind == "shape" and n.target in names]
        if driven:
            found.append(f"{control.label} drives {', '.join(driven)}, and will do less.")
    return found
