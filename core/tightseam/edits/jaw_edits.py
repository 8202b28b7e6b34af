"""Edits of the Jaw station: how the jaw moves, what drives what along which curve, the seal of the lips, a hard head on a soft neck."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

import numpy as np
from pydantic import Field

from tightseam.controls.starting_set import lip_controls
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label, vertices_said
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points, vertex_mask
from tightseam.document.model import Character, Lips
from tightseam.document.units import CM_TO_MM
from tightseam.edits.base import Edit
from tightseam.edits.curves import Keys, checked_keys
from tightseam.jaw.face import LowerFace
from tightseam.jaw.harden import hardened
from tightseam.jaw.lips_setup import first_lips
from tightseam.jaw.movement import Movement, with_movement
from tightseam.jaw.reliefs import softened


class SetMovement(Edit):
    """Set how the jaw moves: degrees it opens at most and cm it slides forward at that, cm it goes to the side and degrees the chin turns
    with it, cm it goes forward. Controls that are missing are made."""

    opens: float = Field(ge=0, le=60)
    slides: float = Field(default=0.0, ge=-2, le=2)
    side: float = Field(default=0.0, ge=0, le=2)
    turns: float = Field(default=0.0, ge=-20, le=20)
    forward: float = Field(default=0.0, ge=0, le=2)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return with_movement(character, Movement(self.opens, self.slides, self.side, self.turns, self.forward))

    def describe(self, character: Character) -> str:
        return f"Set the jaw to open {self.opens:g}° and slide {CM_TO_MM * self.slides:.1f} mm"


class SetLips(Edit):
    """Set how lips seal; what is not given stays."""

    balance: float | None = Field(default=None, ge=0, le=1)
    ahead: float | None = Field(default=None, ge=0, le=2)
    stick: float | None = Field(default=None, ge=0, le=2)
    soft: float | None = Field(default=None, ge=0.01, le=1)
    zip: Keys | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        given = {n: v for n in ("balance", "ahead", "stick", "soft") if (v := getattr(self, n)) is not None}
        if self.zip is not None:
            given["zip"] = checked_keys(self.zip, "way of the seal", (0, 1), (0, 1))
        return replace(character, lips=(replace(_lips(character), **given),))

    def describe(self, character: Character) -> str:
        return "Set how the lips seal"


class StartLips(Edit):
    """Find the lips from landmarks, so that they can seal; how they seal is kept. Where nothing drives them yet they get controls."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        face = LowerFace(character, store)
        found = first_lips(face.surface, face.skin.name, store)
        if character.lips:
            had = character.lips[0]
            kept = {n: getattr(had, n) for n in ("balance", "ahead", "stick", "soft", "zip", "upper_bone", "lower_bone")}
            found = replace(found, **kept)
        driven = any(n.kind in ("seal", "corner") for c in character.controls for n in c.links)
        taken = {c.name for c in character.controls}
        made = () if driven else tuple(c for c in lip_controls() if c.name not in taken)
        return replace(character, lips=(found,), controls=(*character.controls, *made))

    def describe(self, character: Character) -> str:
        return "Found the lips from landmarks"


class SetDual(Edit):
    """How much of dual quaternion skinning is mixed in: on picked vertices, softly round them over `soft` cm, or on a whole part."""

    part: str
    amount: float = Field(ge=0, le=1)
    vertices: Annotated[list[int], Field(min_length=1, max_length=2_000_000)] | None = None
    soft: float = Field(default=1.0, ge=0, le=20)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part = find_part(character, self.part)
        binding = find_binding(character, part.name)
        if binding is None or binding.ride is not None:
            raise BadRequest(f"{part_label(part.name)} is not carried by bones of its own, so there is no skinning to mix.")
        before = np.zeros(part.vertex_count) if binding.dual is None else np.asarray(store.get(binding.dual)).astype(float)
        share = np.ones(part.vertex_count)
        if self.vertices is not None:
            share = vertex_mask(part, self.vertices).astype(float)
            if part.kind == "skin" and self.soft:
                face = LowerFace(character, store)
                rows, values = softened(face, np.flatnonzero(share), self.soft, np.ones(part.vertex_count, bool))
                share[rows] = values
        mixed = before + share * (self.amount - before)
        dual = store.put(mixed.astype(np.float32)) if mixed.any() else None
        return with_binding(character, replace(binding, dual=dual))

    def describe(self, character: Character) -> str:
        where = part_label(self.part) if self.vertices is None else vertices_said(len(set(self.vertices)))
        return f"Mixed {self.amount:.0%} dual quaternions in on {where}"


class HardenHead(Edit):
    """Give the head what neck bones carry of a part above a line, `above` cm up the neutral, so that it does not give as the head turns."""

    part: str
    above: float = Field(ge=-1e4, le=1e4)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part = find_part(character, self.part)
        where = points(character, store, part.name)[:, 1] > self.above
        return hardened(character, store, part, np.flatnonzero(where))

    def describe(self, character: Character) -> str:
        return f"Made the head rigid above {CM_TO_MM * self.above:.0f} mm on {part_label(self.part)}"


def _lips(character: Character) -> Lips:
    if not character.lips:
        raise BadRequest("The lips are not set up yet. Find them from landmarks first.")
    return character.lips[0]
