"""The head made hard: what neck bones carry of it given to the head bone."""

from __future__ import annotations

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.model import Bone, Character, Part
from tightseam.geometry.types import Ints
from tightseam.weights.rows import rows_of, with_rows


def neck_of(character: Character) -> list[Bone]:
    """The bones between head and body: those above the head bone; BadRequest without a head bone, or one that stands alone."""
    bones = {b.name: b for b in character.bones}
    head = bones.get("head")
    if head is None:
        raise BadRequest("The head has no head bone. Build bones at Landmarks.")
    found: list[Bone] = []
    above = head.parent
    while above is not None:
        found.append(bones[above])
        above = bones[above].parent
    if not found:
        raise BadRequest("The parent of the head bone is no neck bone, so nothing can squash it.")
    return found


def hardened(character: Character, store: ArrayStore, part: Part, vertices: Ints) -> Character:
    """The character with all that neck bones carry of some vertices (K,) given to the head bone."""
    binding = find_binding(character, part.name)
    neck = {b.name for b in neck_of(character)}
    if binding is None or binding.ride is not None:
        raise BadRequest(f"{part_label(part.name)} is not carried by bones of its own.")
    names = [b.name for b in character.bones]
    rows = rows_of(store, binding.influences, names, vertices)
    columns = np.array([name in neck for name in names])
    share = rows[:, columns].sum(axis=1)
    touched = share > 0
    if not touched.any():
        raise BadRequest("No neck bone carries anything above that line.")
    rows[:, names.index("head")] += share
    rows[:, columns] = 0
    return with_binding(character, with_rows(store, binding, names, vertices[touched], rows[touched]))
