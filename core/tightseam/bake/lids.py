"""Lids for formats that know shapes alone: what each control closes, as a shape."""

from __future__ import annotations

from dataclasses import replace

from tightseam.bake.controls import with_effects_baked
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, LinkKind
from tightseam.document.poses import rest_values

CLOSING: tuple[LinkKind, ...] = ("lid",)


def with_lids_baked(character: Character, store: ArrayStore) -> Character:
    """The character without lids that close on an arc and without eye relief: each control that closes lids gets a shape in their place,
    as both look together at the control's far end with the eyes straight ahead.

    On the way there, mixed, and for other gazes it comes out otherwise than on the arc.
    """
    if not character.lids:
        return character
    return replace(with_effects_baked(character, store, CLOSING, rest_values(character)), lids=(), eye_reliefs=())
