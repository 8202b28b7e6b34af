"""Weights of a whole part, or of some of its vertices, made anew."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from tightseam.binding.first_weights import envelopes, heat, straight, transferred
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label, vertices_said
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Binding, Bone, Character
from tightseam.document.units import CM_TO_MM
from tightseam.edits.base import Edit
from tightseam.geometry.types import Floats
from tightseam.weights.change import refilled
from tightseam.weights.patch import Patch
from tightseam.weights.rows import with_rows

Radius = Annotated[float, Field(gt=0, le=100)]
SAID = {"heat": "by heat over the surface", "envelope": "by envelopes", "straight": "by straight-line distance"}


class MakeWeights(Edit):
    """New weights for a part, or for some of its vertices. Held bones keep theirs to the bit, and the others share what those leave."""

    part: str
    vertices: list[int] | None = Field(default=None, min_length=1, max_length=2_000_000)
    locked: list[str] = Field(default=[], max_length=2000)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part = find_part(character, self.part)
        chosen = range(part.vertex_count) if self.vertices is None else self.vertices
        patch = Patch(character, store, self.part, chosen, self.locked)
        rows = refilled(patch.rows, self.made(character, store)[patch.vertices], patch.free)
        bound = patch.binding if self.vertices is not None else Binding(part.name, "weighted", ())  # all of it may have ridden before
        return with_binding(character, with_rows(store, bound, patch.bones, patch.vertices, rows))

    def made(self, character: Character, store: ArrayStore) -> Floats:
        """Weights (N, B) of the whole part over all bones."""
        raise NotImplementedError

    def _where(self) -> str:
        return part_label(self.part) if self.vertices is None else f"{vertices_said(len(set(self.vertices)))} of {part_label(self.part)}"


class WeighPart(MakeWeights):
    """First weights: by heat over the surface with landmarks, by envelopes, by plain heat from the nearest bones, or none."""

    takes_long = True

    how: Literal["heat", "envelope", "straight", "none"]

    def made(self, character: Character, store: ArrayStore) -> Floats:
        part = find_part(character, self.part)
        if self.how == "none":
            return np.zeros((part.vertex_count, len(character.bones)))
        return {"heat": heat, "envelope": envelopes, "straight": straight}[self.how](character, store, part)

    def describe(self, character: Character) -> str:
        if self.how == "none":
            return f"Took all weights from {self._where()}"
        return f"Made weights of {self._where()} {SAID[self.how]}"


class TransferWeights(MakeWeights):
    """Take weights over from the nearest places of another part."""

    source: str

    def made(self, character: Character, store: ArrayStore) -> Floats:
        if self.source == self.part:
            raise BadRequest("Weights are copied from another part; both are the same.")
        return transferred(character, store, find_part(character, self.part), find_part(character, self.source))

    def describe(self, character: Character) -> str:
        return f"Gave {self._where()} the weights of {part_label(self.source)}"


class SetEnvelope(Edit):
    """Set the capsule of a bone, and of its twin: its inner and outer radius in cm."""

    bone: str
    inner: Radius
    outer: Radius
    mirror: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        chosen = find_bone(character, self.bone)
        if not self.inner < self.outer:
            raise BadRequest(f"“None beyond” must be farther out than “Full within”; {self.outer:g} cm is not more than {self.inner:g} cm.")
        names = {chosen.name, chosen.twin if self.mirror else None}

        def changed(bone: Bone) -> Bone:
            return replace(bone, envelope=(self.inner, self.outer)) if bone.name in names else bone

        return replace(character, bones=tuple(changed(b) for b in character.bones))

    def describe(self, character: Character) -> str:
        return f"Set the envelope of {find_bone(character, self.bone).label} to {self.inner * CM_TO_MM:g} and {self.outer * CM_TO_MM:g} mm"
