"""Riding parts for formats that know bones and shapes alone: weights of the roots, and shapes as they look from the rest."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.deform.shapes_alone import ShapesAlone
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import binding as find_binding
from tightseam.document.make import make_delta, make_influences
from tightseam.document.model import Binding, Character, PartDelta, Ride, Shape
from tightseam.weights.rows import rows_of


def with_rides_baked(character: Character, store: ArrayStore) -> Character:
    """The character with nothing that rides: each such part gets the weights of its roots, and in each shape what riding makes of it.

    Shapes that are mixed, and bones that bend the surface under a tuft, come out a little otherwise than ridden.
    """
    riding = [b for b in character.bindings if b.ride is not None]
    if not riding:
        return character
    moved = _ridden_shapes(character, store, [b.part for b in riding])
    baked = tuple(_weighted(b, b.ride, character, store) if b.ride else b for b in character.bindings)
    return replace(character, bindings=baked, shapes=moved)


def _weighted(binding: Binding, ride: Ride, character: Character, store: ArrayStore) -> Binding:
    carrier = find_binding(character, ride.on)
    bones = [b.name for b in character.bones]
    roots, at = np.unique(np.asarray(store.get(ride.roots)), return_inverse=True)
    rows = rows_of(store, carrier.influences if carrier else (), bones, roots)[at]
    return Binding(binding.part, "weighted", make_influences(store, bones, rows))


def _ridden_shapes(character: Character, store: ArrayStore, parts: list[str]) -> tuple[Shape, ...]:
    """All shapes, with deltas of the riding parts as each shape alone moves them."""
    alone = ShapesAlone(character, store)
    still = alone.rest()

    def baked(k: int, shape: Shape) -> Shape:
        offsets = alone.points(k) - still
        made = [make_delta(store, part, offsets[alone.evaluator.meshes.rows(part)]) for part in parts]
        return replace(shape, deltas=(*(d for d in shape.deltas if d.part not in parts), *(d for d in made if d is not None)))

    return tuple(baked(k, s) for k, s in enumerate(character.shapes))


def own_deltas(character: Character) -> list[tuple[str, PartDelta]]:
    """What shapes do to riding parts beside the ride: (shape, delta)."""
    riding = {b.part for b in character.bindings if b.ride is not None}
    return [(s.name, d) for s in character.shapes for d in s.deltas if d.part in riding]
