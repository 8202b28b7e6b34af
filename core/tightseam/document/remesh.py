"""A part with another mesh: everything that speaks of its vertices follows, and the source map is kept."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from tightseam.document.arrays import ArrayHash, ArrayStore
from tightseam.document.fields import Beside, PerPolygon, PerVertex, Roots, Vertices
from tightseam.document.model import Character, Part
from tightseam.document.walk import Field, marks_of, rewritten
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
    if part.source is None:  # from now on it has to say where each vertex stood
        delivered = replace(part, source=store.put(np.arange(part.vertex_count, dtype=np.int32)))
        character, part = with_part(character, part, delivered), delivered
    moved = rewritten(character, _Renumbering(store, part, np.asarray(number), np.asarray(origin), np.asarray(faces)))
    followed = next(p for p in moved.parts if p.name == part.name)
    mesh = replace(
        followed,
        points=store.put(np.asarray(points, np.float64)),
        sizes=store.put(polygons.sizes.astype(np.int32)),
        corners=store.put(polygons.corners.astype(np.int32)),
        vertex_count=len(points),
        polygon_count=len(polygons),
    )
    return with_part(moved, followed, mesh)


class _Renumbering:
    """What becomes of a field whose array speaks of vertices or polygons of the part."""

    def __init__(self, store: ArrayStore, part: Part, number: Ints, origin: Ints, faces: Ints) -> None:
        self._store, self._part, self._number, self._origin, self._faces = store, part, number, origin, faces

    def __call__(self, field: Field) -> Any:
        mark = next((m for m in field.marks if isinstance(m, Vertices | Beside | PerVertex | PerPolygon | Roots)), None)
        if isinstance(mark, Vertices) and self._own(field, mark.of):
            return self._put(self._line(field.value) if mark.ordered else self._rows(field.value)[0].astype(np.int32))
        if isinstance(mark, Beside) and self._own(field, _vertices_of(field, mark.rows)):
            return self._put(self._get(field.value)[self._rows(field.beside(mark.rows))[1]])
        if isinstance(mark, PerVertex) and self._own(field, mark.of):
            return self._put(self._get(field.value)[self._origin])
        if isinstance(mark, PerPolygon) and field.records[-1].name == self._part.name:
            return self._put(self._get(field.value)[self._faces])
        return self._roots(field, mark) if isinstance(mark, Roots) else field.value

    def _own(self, field: Field, of: str) -> bool:
        return bool(of) and field.beside(of) == self._part.name

    def _roots(self, field: Field, mark: Roots) -> ArrayHash:
        roots = self._get(field.value)
        rows = self._own(field, mark.of)
        if not rows and not self._own(field, mark.on):
            return field.value
        roots = roots[self._origin] if rows else roots
        return self._put(np.maximum(self._number[roots], 0).astype(np.int32) if self._own(field, mark.on) else roots)

    def _line(self, key: ArrayHash) -> Ints:
        """Lines keep their order; a vertex that two became stands once."""
        moved = self._number[self._get(key)]
        return np.array(list(dict.fromkeys(moved[moved >= 0].tolist())), np.int32)

    def _rows(self, key: ArrayHash) -> tuple[Ints, Ints]:
        """New vertices (K,) of sparse rows, and the old row of each: of vertices that became one, that of the one it came from."""
        old = self._get(key)
        place = np.full(len(self._number), -1)
        place[old] = np.arange(len(old))
        at = place[self._origin]
        kept = np.flatnonzero(at >= 0)
        return kept, at[kept]

    def _get(self, key: ArrayHash) -> AnyArray:
        return np.asarray(self._store.get(key))

    def _put(self, array: AnyArray) -> ArrayHash:
        return self._store.put(array)


def _vertices_of(field: Field, rows: str) -> str:
    """The field that names the part of which the vertices in the field `rows` are."""
    cls: Any = type(field.records[-1])
    return next(m.of for m in marks_of(cls, rows) if isinstance(m, Vertices))
