"""Give a part to the bones that should carry it."""

from __future__ import annotations

from itertools import pairwise
from typing import Literal

import numpy as np
from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_joints
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points
from tightseam.document.make import make_influences
from tightseam.document.model import Binding, Bone, Character
from tightseam.edits.base import Edit
from tightseam.geometry.types import AnyArray
from tightseam.weights.chain import chain_weights


class SetCarrier(Edit):
    """Bind a whole part rigidly to one bone, or along a chain of bones given from root to tip."""

    part: str
    carrier: Literal["rigid", "chain"]
    bones: list[str] = Field(min_length=1, max_length=32)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part = find_part(character, self.part)
        bones = [self._deforming(character, name) for name in self.bones]
        if self.carrier == "rigid":
            if len(bones) != 1:
                raise BadRequest(f"A rigid carrier is one bone; {len(bones)} were given.")
            weights: AnyArray = np.ones((part.vertex_count, 1))
        else:
            self._check_chain(bones)
            joints = chain_joints(bones)
            weights = chain_weights(points(character, store, part.name), joints)
        bound = Binding(part.name, self.carrier, make_influences(store, self.bones, weights))
        return with_binding(character, bound)

    def describe(self, character: Character) -> str:
        bones = ", ".join(find_bone(character, name).label for name in self.bones)
        return f"Gave {part_label(self.part)} to {bones}"

    def _deforming(self, character: Character, name: str) -> Bone:
        bone = find_bone(character, name)
        if bone.role == "helper":
            raise BadRequest(f"{bone.label} is a helper bone and deforms nothing. Choose a bone that deforms.")
        return bone

    def _check_chain(self, bones: list[Bone]) -> None:
        if len(bones) < 2 or any(child.parent != parent.name for parent, child in pairwise(bones)):
            raise BadRequest("A chain needs two or more bones, each the child of the one before it.")
