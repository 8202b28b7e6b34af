"""A body joined to the head."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from pydantic import Field

from tightseam.body.fade import with_neck_faded
from tightseam.document.arrays import ArrayStore
from tightseam.document.change_bones import in_order
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.labels import counted
from tightseam.document.model import Binding, Bone, Character, Part, Point
from tightseam.document.shifted import shifted
from tightseam.edits.base import Edit

MOST_PARTS, MOST_BONES = 500, 2000


class JoinBody(Edit):
    """Put the head on a body whose arrays lie in the store already: all of ours is moved by `shift` (cm), its root hangs on the bone
    `under` it, and where it `fades` skin and cloth of the neck go over into that bone."""

    takes_long = True

    parts: list[Part] = Field(max_length=MOST_PARTS)
    bones: list[Bone] = Field(min_length=1, max_length=MOST_BONES)
    bindings: list[Binding] = Field(max_length=MOST_PARTS)
    under: str
    shift: Point
    fades: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        taken = {b.name for b in character.bones} & {b.name for b in self.bones} or {p.name for p in character.parts} & {
            p.name for p in self.parts
        }
        if taken:
            raise BadRequest(f"There is a “{min(taken)}” already: this head stands on a body.")
        roots = [b for b in character.bones if b.parent is None]
        moved = shifted(character, store, np.array(self.shift))
        own = [replace(b, parent=self.under) if b.parent is None else b for b in moved.bones]
        joined = replace(
            moved,
            parts=(*moved.parts, *self.parts),
            bones=in_order([*self.bones, *own]),
            bindings=(*moved.bindings, *self.bindings),
        )
        try:
            check_names(joined)
            check_arrays(joined, store)
        except (BadDocument, KeyError) as error:
            raise BadRequest(f"This body cannot be joined: {error}") from None
        for root in roots if self.fades else ():
            joined = with_neck_faded(joined, store, next(b for b in joined.bones if b.name == root.name), self.under)
        return joined

    def describe(self, character: Character) -> str:
        parts, bones = counted(len(self.parts), "part", "parts"), counted(len(self.bones), "bone", "bones")
        return f"Joined a body of {parts} and {bones}"
