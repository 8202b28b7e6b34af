"""A part with another mesh: everything that speaks of its vertices follows, and the source map is kept."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayHash, ArrayStore
from tightseam.document.model import Binding, Character, EyeRelief, Influence, Lids, Lips, Part, PartDelta, Relief, Selection, Shape
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import AnyArray, Floats, Ints


def with_points(character: Character, store: ArrayStore, part: Part, points: Floats) -> Character:
    """The part with its vertices elsewhere, (N, 3) cm; numbers and faces stay."""
    return with_part(character, part, replace(part, points=store.put(np.asarray(points, np.float64))))


def with_part(character: Character, old: Part, new: Part) -> Character:
    return replace(character, parts=tuple(new if p is old else p for p in character.parts))


def renumbered(
    character: Character, store: ArrayStore, part: Part, number: Ints, origin: Ints, points: Floats, polygons: Polygons, faces: Ints
) -> Character:
    """The character after vertex v of a part became `number[v]`, -1 for one that is gone.

    `origin` (K,) is the old number of each new vertex, whose weights, offsets and colours it takes; `points` (K, 3); `faces` the
    old number of each of the new `polygons`. Merged vertices share a number: sets, maps and roots follow `number`.
    """
    return _Renumbering(store, part, np.asarray(number), np.asarray(origin)).character(character, points, polygons, faces)


Rooted = tuple[str, ArrayHash]  # a part, and for each of its vertices one of the skin it is rooted at


class _Renumbering:
    def __init__(self, store: ArrayStore, part: Part, number: Ints, origin: Ints) -> None:
        self._store, self._part, self._number, self._origin = store, part, number, origin

    def character(self, character: Character, points: Floats, polygons: Polygons, faces: Ints) -> Character:
        changed = replace(
            character,
            bindings=tuple(self._ride(self._binding(b) if b.part == self._part.name else b) for b in character.bindings),
            shapes=tuple(self._shape(s) for s in character.shapes),
            reliefs=tuple(self._relief(r) for r in character.reliefs),
            lids=tuple(self._lids(x) for x in character.lids),
            surface_reliefs=tuple(self._surface_relief(r) if r.part == self._part.name else r for r in character.surface_reliefs),
            lips=tuple(self._lips(x) if x.skin == self._part.name else x for x in character.lips),
            selections=tuple(self._selection(s) if s.part == self._part.name else s for s in character.selections),
        )
        return with_part(changed, self._part, self._mesh(points, polygons, faces))

    def _mesh(self, points: Floats, polygons: Polygons, faces: Ints) -> Part:
        part, put = self._part, self._store.put
        source = np.arange(part.vertex_count) if part.source is None else self._get(part.source)
        return replace(
            part,
            points=put(np.asarray(points, np.float64)),
            sizes=put(polygons.sizes.astype(np.int32)),
            corners=put(polygons.corners.astype(np.int32)),
            vertex_count=len(points),
            polygon_count=len(polygons),
            colours=part.colours and put(self._get(part.colours)[self._origin]),
            face_colours=part.face_colours and put(self._get(part.face_colours)[faces]),
            sets={name: put(self._moved_set(key)) for name, key in part.sets.items()},
            source=put(source[self._origin].astype(np.int32)),
            split=part.split and put(np.maximum(self._number[self._get(part.split)], 0).astype(np.int32)),
        )

    def _get(self, key: ArrayHash) -> AnyArray:
        return np.asarray(self._store.get(key))

    def _moved_set(self, key: ArrayHash) -> AnyArray:
        """Lines keep their order; a vertex that two became stands once."""
        moved = self._number[self._get(key)]
        moved = moved[moved >= 0]
        return np.array(list(dict.fromkeys(moved.tolist())), np.int32)

    def _rows(self, vertices: ArrayHash, *values: ArrayHash) -> tuple[ArrayHash, ...]:
        """Sparse rows after the renumbering: of vertices that became one, the row of the one it came from."""
        old = self._get(vertices)
        place = np.full(len(self._number), -1)
        place[old] = np.arange(len(old))
        at = place[self._origin]
        kept = np.flatnonzero(at >= 0)
        put = self._store.put
        return (put(kept.astype(np.int32)), *(put(self._get(v)[at[kept]]) for v in values))

    def _binding(self, binding: Binding) -> Binding:
        moved = tuple(Influence(i.bone, *self._rows(i.vertices, i.weights)) for i in binding.influences)
        return replace(binding, influences=moved, dual=binding.dual and self._store.put(self._get(binding.dual)[self._origin]))

    def _ride(self, binding: Binding) -> Binding:
        ride = binding.ride
        if ride is None:
            return binding
        put = self._store.put
        if binding.part == self._part.name:
            return replace(binding, ride=replace(ride, roots=put(self._get(ride.roots)[self._origin])))
        if ride.on == self._part.name:
            return replace(binding, ride=replace(ride, roots=put(np.maximum(self._number[self._get(ride.roots)], 0).astype(np.int32))))
        return binding

    def _shape(self, shape: Shape) -> Shape:
        return replace(
            shape,
            deltas=tuple(PartDelta(d.part, *self._rows(d.vertices, d.offsets)) if d.part == self._part.name else d for d in shape.deltas),
        )

    def _selection(self, selection: Selection) -> Selection:
        return replace(selection, vertices=self._store.put(self._moved_set(selection.vertices)))

    def _roots(self, skin: str, roots: tuple[Rooted, ...]) -> tuple[Rooted, ...]:
        """Roots of parts on a skin, where either was renumbered."""
        put = self._store.put
        own = tuple((n, put(self._get(r)[self._origin]) if n == self._part.name else r) for n, r in roots)
        if skin != self._part.name:
            return own
        return tuple((n, put(np.maximum(self._number[self._get(r)], 0).astype(np.int32))) for n, r in own)

    def _relief(self, relief: EyeRelief) -> EyeRelief:
        followers = self._roots(relief.skin, relief.followers)
        if relief.skin != self._part.name:
            return replace(relief, followers=followers)
        own = (relief.amount, relief.clearance, relief.settle, *((relief.swell,) if relief.swell else ()))
        vertices, amount, clearance, settle, *swell = self._rows(relief.vertices, *own)
        return replace(
            relief,
            vertices=vertices,
            amount=amount,
            clearance=clearance,
            settle=settle,
            followers=followers,
            swell=swell[0] if swell else None,
        )

    def _lids(self, pair: Lids) -> Lids:
        lashes = self._roots(pair.skin, pair.lashes)
        if pair.skin != self._part.name:
            return replace(pair, lashes=lashes)
        put = self._store.put
        upper, lower = (put(self._moved_set(key)) for key in (pair.upper_margin, pair.lower_margin))
        vertices, of_upper, share = self._rows(pair.vertices, pair.upper, pair.share)
        return replace(pair, upper_margin=upper, lower_margin=lower, vertices=vertices, upper=of_upper, share=share, lashes=lashes)

    def _surface_relief(self, relief: Relief) -> Relief:
        vertices, region = self._rows(relief.vertices, relief.region)
        return replace(relief, vertices=vertices, region=region)

    def _lips(self, lips: Lips) -> Lips:
        upper, lower = (self._store.put(self._moved_set(key)) for key in (lips.upper, lips.lower))
        vertices, share, place, corner = self._rows(lips.vertices, lips.share, lips.place, lips.corner)
        return replace(lips, upper=upper, lower=lower, vertices=vertices, share=share, place=place, corner=corner)
