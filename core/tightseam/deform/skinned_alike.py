"""Characters skinned in one way alone, to compare with."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character


def all_linear(character: Character) -> Character:
    """The character without dual quaternions."""
    return replace(character, bindings=tuple(replace(b, dual=None) for b in character.bindings))


def all_dual(character: Character, store: ArrayStore) -> Character:
    """The character with every part that bones carry skinned by dual quaternions alone."""
    counts = {p.name: p.vertex_count for p in character.parts}
    bindings = tuple(
        b if b.ride is not None else replace(b, dual=store.put(np.ones(counts[b.part], np.float32))) for b in character.bindings
    )
    return replace(character, bindings=bindings)
