"""Things taken out of a character, with all that needs them."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np

from tightseam.document.channels import own_spans
from tightseam.document.fields import Named, Noun, Refers
from tightseam.document.model import Character
from tightseam.document.names import Names, names_of
from tightseam.document.walk import LOST, Field, rewritten


def without(character: Character, noun: Noun, names: Collection[str]) -> Character:
    """The character without some parts, bones, shapes, ... and without what spoke of them, and of what went with that in turn."""

    def left(field: Field) -> Any:
        mark = field.mark(Named)
        return LOST if mark is not None and mark.noun == noun and field.value in names else field.value

    return settled(rewritten(character, left))


def settled(character: Character) -> Character:
    """The character without anything that speaks of what is not there, and with pose values within what there is allows."""
    while True:
        there = names_of(character)
        left = rewritten(character, partial(_unless_dangling, there))
        if left is character:
            return within_spans(character)
        character = left


def _unless_dangling(there: Names, field: Field) -> Any:
    mark = field.mark(Refers)
    if mark is None or not mark.strict:
        return field.value
    noun = mark.noun or field.beside(mark.noun_in)
    return field.value if field.value in there[noun] else LOST


def within_spans(character: Character) -> Character:
    """The poses hold of bones' and shapes' own controls no more than these allow."""
    own = own_spans(character)
    named = {c.name for c in character.controls}

    def inside(values: Mapping[str, float]) -> dict[str, float]:
        return {n: float(np.clip(v, *own[n])) if n in own and n not in named else v for n, v in values.items()}

    poses = tuple(p if inside(p.values) == p.values else replace(p, values=inside(p.values)) for p in character.poses)
    return replace(character, poses=poses)
