"""Weights of hair, from those of the skin that it stands on."""

from __future__ import annotations

import numpy as np

from tightseam.binding.carriers import made_bone, usual_carrier
from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_of
from tightseam.document.lookup import binding as find_binding
from tightseam.document.model import Character, Part
from tightseam.geometry.types import Floats
from tightseam.head.hair import hair_of
from tightseam.weights.rows import rows_of


def rooted_weights(character: Character, store: ArrayStore, part: Part) -> Floats | None:
    """Weights (M, B) of whiskers and of hair by where they stand on the skin; None for other parts, and while no bone carries a skin.

    Hair of the head goes with skull and neck alone: neither the jaw nor the bones of the face pull it. What stands nowhere goes with the
    usual bone, and so does what the skin lacks to a total of 1; what it has too much of is not handed on.
    """
    usual = made_bone(character.bones, usual_carrier(part) or "")
    skin = next((p for p in character.parts if p.kind == "skin"), None)
    bound = None if skin is None else find_binding(character, skin.name)
    if part.kind not in ("whiskers", "hair") or usual is None or skin is None or bound is None or not bound.influences:
        return None
    names = [b.name for b in character.bones]
    rows = rows_of(store, bound.influences, names, np.arange(skin.vertex_count))
    fixed = np.eye(len(names))[names.index(usual.name)]
    if part.kind == "hair":
        rows = rows * np.isin(names, [usual.name, *(b.name for b in chain_of(character.bones, "neck"))])
    rows = rows / np.maximum(rows.sum(axis=1, keepdims=True), 1)
    rows += (1 - rows.sum(axis=1, keepdims=True)) * fixed
    weights, rooted = hair_of(character, store, part, skin).carried(rows)
    return np.where(rooted[:, None], weights, fixed)
