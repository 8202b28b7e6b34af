"""Letting a part ride on the posed surface of another."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np

from tightseam.deform.ride import unridden
from tightseam.deform.shapes_alone import ShapesAlone
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.lookup import points as part_points
from tightseam.document.lookup import polygons, vertex_set
from tightseam.document.make import make_delta
from tightseam.document.model import Binding, Character, Part, Ride, Shape
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.adjacency import islands
from tightseam.geometry.distance import closest_points
from tightseam.geometry.types import Floats, Ints
from tightseam.head.roots import ROOTS, seen

FAR = 1e6  # cm: behind whatever is rooted
SMALL = 0.1  # cm of a shape's own movement beside the ride that may be dropped
By = Literal["vertex", "tuft"]


def with_ride(character: Character, store: ArrayStore, part: Part, carrier: Part, by: By, tolerance: float = SMALL) -> Character:
    """The character with a part riding on a carrier, vertex by vertex or each of its islands as a tuft.

    What shapes did to the part is kept as far as riding does not do it already, where more than `tolerance` (cm) is left of it.
    """
    roots = ride_roots(character, store, part, carrier, by)
    ride = Ride(carrier.name, store.put(roots.astype(np.int32)), by == "tuft")
    ridden = with_binding(character, Binding(part.name, "ride", (), ride))
    eye_reliefs = tuple(replace(r, followers=tuple(f for f in r.followers if f[0] != part.name)) for r in ridden.eye_reliefs)
    return replace(ridden, eye_reliefs=eye_reliefs, shapes=_beside_ride(replace(ridden, eye_reliefs=eye_reliefs), store, part, tolerance))


def ride_roots(character: Character, store: ArrayStore, part: Part, carrier: Part, by: By) -> Ints:
    """The carrier's vertex each vertex is rooted at, (N,): a corner of the nearest triangle; for a tuft of its nearest vertex, among its
    roots where they are known. Never in the lining of a mouth."""
    own, under = part_points(character, store, part.name), part_points(character, store, carrier.name)
    triangles = seen(part_mesh(store, carrier).triangles, carrier, store)
    distance, face, closest = closest_points(own, under, triangles)
    if ROOTS in part.sets:
        rooted = np.isin(np.arange(len(own)), vertex_set(store, part, ROOTS))
        distance = np.where(rooted, distance, distance + FAR)
    corners = triangles[face]
    nearest = np.linalg.norm(under[corners] - closest[:, None], axis=2).argmin(axis=1)
    roots = corners[np.arange(len(own)), nearest]
    if by == "tuft":
        island = islands(polygons(store, part), part.vertex_count)
        order = np.lexsort((distance, island))
        first = order[np.unique(island[order], return_index=True)[1]]
        roots = roots[first][island]
    return np.asarray(roots)


def _beside_ride(character: Character, store: ArrayStore, part: Part, tolerance: float) -> tuple[Shape, ...]:
    """All shapes, with those deltas of the part that riding does not make already."""
    alone = ShapesAlone(replace(character, shapes=tuple(_without(s, part.name) for s in character.shapes)), store)
    rest = part_points(character, store, part.name)
    ride = next(r for r in alone.evaluator.rig.rides if r.first == alone.evaluator.meshes.rows(part.name).start)

    def beside(k: int, shape: Shape) -> Shape:
        old = next((d for d in shape.deltas if d.part == part.name), None)
        if old is None:
            return shape
        offsets: Floats = np.zeros_like(rest)
        offsets[np.asarray(store.get(old.vertices))] = np.asarray(store.get(old.offsets))
        own = unridden(ride, rest + offsets, alone.points(k)) - rest
        kept = make_delta(store, part.name, own) if np.linalg.norm(own, axis=1).max() > tolerance else None
        return replace(shape, deltas=(*_without(shape, part.name).deltas, *([kept] if kept else [])))

    return tuple(beside(k, s) for k, s in enumerate(character.shapes))


def _without(shape: Shape, part: str) -> Shape:
    return replace(shape, deltas=tuple(d for d in shape.deltas if d.part != part))
