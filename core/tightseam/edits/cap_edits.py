"""Caps of what expressions add up to."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace
from itertools import count
from typing import Annotated

import numpy as np
from pydantic import Field

from tightseam.brush.canvas import canvas_of
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.labels import part_label, vertices_said
from tightseam.document.lookup import by_name, vertex_mask
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Cap, Character
from tightseam.document.shape_model import MOST_CAP
from tightseam.document.units import CM_TO_MM
from tightseam.edits.base import Edit
from tightseam.geometry.geodesic import fading

MOST_CAPS = 100
LEAST = 1e-3  # of a region: what is held less is left out
FARTHEST_FADE = 20.0  # cm
Centimetres = Annotated[float, Field(ge=0, le=MOST_CAP)]


class AddCap(Edit):
    """Let expressions add up no farther than `cm`, or than one of them goes by itself, at picked vertices of a part; `soft` cm at most are
    let through of what is beyond. It fades out along the surface over `fades` cm. With `mirror` the other side is held, too."""

    part: str
    vertices: list[int] = Field(min_length=1, max_length=2_000_000)
    cm: Centimetres = 0.0
    soft: Centimetres = 0.1
    fades: float = Field(default=1.0, ge=0, le=FARTHEST_FADE)
    label: Annotated[str, Field(max_length=60)] = ""
    mirror: bool = False

    def apply(self, character: Character, store: ArrayStore) -> Character:
        if len(character.caps) >= MOST_CAPS:
            raise BadRequest(f"There are {MOST_CAPS} caps, which are the most; remove one first.")
        part = find_part(character, self.part)
        canvas = canvas_of(character, store, part)
        picked = np.flatnonzero(vertex_mask(part, self.vertices))
        if self.mirror:
            picked = np.union1d(picked, canvas.mirrored(picked, np.ones(len(picked)))[0])
        region = fading(canvas.mesh.graph, picked, self.fades)
        held = np.flatnonzero(region > LEAST)
        label = " ".join(self.label.split()) or f"Cap on {part_label(part.name)}"
        cap = Cap(
            free_name("cap", {c.name for c in character.caps}),
            _unlike(label, [c.label for c in character.caps]),
            part.name,
            store.put(held.astype(np.int32)),
            store.put(region[held].astype(np.float32)),
            self.cm,
            self.soft,
        )
        return replace(character, caps=(*character.caps, cap))

    def describe(self, character: Character) -> str:
        where = f"{vertices_said(len(set(self.vertices)))} of {part_label(self.part)}{' and on the other side' if self.mirror else ''}"
        return f"Capped what expressions add up to on {where} at {CM_TO_MM * self.cm:g} mm"


class SetCap(Edit):
    """Change how far a cap lets expressions add up, or how softly."""

    name: str
    cm: Centimetres | None = None
    soft: Centimetres | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        cap = _found(character, self.name)
        changed = replace(cap, cm=cap.cm if self.cm is None else self.cm, soft=cap.soft if self.soft is None else self.soft)
        return replace(character, caps=tuple(changed if c is cap else c for c in character.caps))

    def describe(self, character: Character) -> str:
        cap = _found(character, self.name)
        cm, soft = (CM_TO_MM * (cap_cm if own is None else own) for own, cap_cm in ((self.cm, cap.cm), (self.soft, cap.soft)))
        return f"Set {cap.label} to {cm:g} mm, soft over {soft:g} mm"


class RemoveCap(Edit):
    """Let expressions add up again."""

    name: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        gone = _found(character, self.name)
        return replace(character, caps=tuple(c for c in character.caps if c is not gone))

    def describe(self, character: Character) -> str:
        return f"Removed the cap {self.name}"


def _unlike(label: str, others: Collection[str]) -> str:
    """The label, with a number where others have it."""
    return label if label not in others else next(f"{label} {k}" for k in count(2) if f"{label} {k}" not in others)


def _found(character: Character, name: str) -> Cap:
    return by_name(character.caps, name, "cap")
