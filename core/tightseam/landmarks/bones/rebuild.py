"""Building bones anew after landmarks or choices have changed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.change_bones import with_bones
from tightseam.document.model import Bone, Character, Skeleton
from tightseam.geometry.types import Floats
from tightseam.head.found import found_head
from tightseam.landmarks.bones.build import build_bones


def rebuilt(character: Character, choices: Skeleton, store: ArrayStore) -> Character:
    """The character with bones as its landmarks and `choices` say; weights, shapes and all else that speaks of a bone stay.

    A bone that was there keeps its label, role and limits, and, where a person set its ends, those too. Bones that a person added
    stay. BadRequest names a landmark that is missing.
    """
    marks = {m.name: np.array(m.point) for m in character.landmarks}
    made = build_bones(choices, marks, _teeth(character, store), found_head(character, store).axes)
    before = {b.made_as or b.name: b for b in character.bones}
    called = {name: b.name for name, b in before.items()}
    bones = [_as_before(_called(b, called), before.get(b.name)) for b in made]
    names = {b.name for b in bones}
    bones += [b for b in character.bones if b.by_hand and b.name not in names]
    return with_bones(replace(character, skeleton=choices), bones, store)


def _called(made: Bone, names: Mapping[str, str]) -> Bone:
    """A bone by the names that people have given it and its neighbours since."""

    def now(name: str | None) -> str | None:
        return None if name is None else names.get(name, name)

    name = names.get(made.name, made.name)
    return replace(made, name=name, parent=now(made.parent), twin=now(made.twin), made_as=None if name == made.name else made.name)


def _as_before(made: Bone, before: Bone | None) -> Bone:
    if before is None:
        return made
    if before.by_hand:
        return before
    return replace(
        made, label=before.label, role=before.role, turn=before.turn, move=before.move, export=before.export, envelope=before.envelope
    )


def _teeth(character: Character, store: ArrayStore) -> dict[str, Floats]:
    """The middles of the "upper" and "lower" teeth that are there."""
    kinds = {"teeth upper": "upper", "teeth lower": "lower"}
    parts = [p for p in character.parts if p.kind in kinds]
    return {kinds[p.kind]: np.asarray(store.get(p.points)).mean(axis=0) for p in parts}
