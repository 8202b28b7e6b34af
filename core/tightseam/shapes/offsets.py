"""Shapes as dense offsets of every part, and back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.make import make_delta
from tightseam.document.model import Character, PartDelta, Shape
from tightseam.geometry.types import Floats

Offsets = dict[str, Floats]  # by part, (N, 3) float64 in cm; parts that do not move are left out


def offsets_of(character: Character, store: ArrayStore, shape: Shape) -> Offsets:
    """What a shape does to each part it moves."""
    counts = {p.name: p.vertex_count for p in character.parts}
    found: Offsets = {}
    for delta in shape.deltas:
        whole = found.setdefault(delta.part, np.zeros((counts[delta.part], 3)))
        whole[np.asarray(store.get(delta.vertices))] += np.asarray(store.get(delta.offsets))
    return found


def made_shape(store: ArrayStore, name: str, label: str, offsets: Mapping[str, Floats]) -> Shape:
    """A shape of offsets; parts in which nothing moves are left out."""
    return Shape(name, label, deltas_of(store, offsets))


def deltas_of(store: ArrayStore, offsets: Mapping[str, Floats]) -> tuple[PartDelta, ...]:
    """Offsets as a shape keeps them."""
    deltas = (make_delta(store, part, x) for part, x in offsets.items())
    return tuple(d for d in deltas if d is not None)


def summed(terms: Sequence[tuple[Offsets, float]]) -> Offsets:
    """Offsets added up, each times its strength."""
    found: Offsets = {}
    for offsets, strength in terms:
        for part, x in offsets.items():
            found[part] = found.get(part, 0.0) + strength * x
    return found
