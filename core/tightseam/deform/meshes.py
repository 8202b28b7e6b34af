"""The meshes of a document laid out for evaluation: all parts in one row of vertices."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.lookup import polygons
from tightseam.document.model import Character
from tightseam.geometry.read_only import read_only
from tightseam.geometry.triangulate import triangulate_with_faces
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Meshes:
    """Neutral points of all parts behind one another. `start` gives the first vertex of each part and, last, the count.

    `quads` and `triangles` (of all that is no quad) are the faces of everything; `part_triangles` those of each part in its
    own numbers, quads split.
    """

    names: tuple[str, ...]
    start: Ints
    rest: Floats
    quads: Ints
    triangles: Ints
    part_triangles: tuple[Ints, ...]

    def rows(self, part: str) -> slice:
        k = self.names.index(part)
        return slice(int(self.start[k]), int(self.start[k + 1]))

    def by_part(self, points: Floats) -> dict[str, Floats]:
        """The points (N, 3) of everything part by part, as views."""
        return {name: points[self.rows(name)] for name in self.names}


@derived("parts")
def compile_meshes(character: Character, store: ArrayStore) -> Meshes:
    points = [np.asarray(store.get(p.points)) for p in character.parts]
    faces = [polygons(store, p) for p in character.parts]
    split = [triangulate_with_faces(x, f) for x, f in zip(points, faces, strict=True)]
    start = np.concatenate([[0], np.cumsum([len(x) for x in points])])
    quads = [f.quads + s for f, s in zip(faces, start, strict=False)]
    others = [t[f.sizes[of] != 4] + s for (t, of), f, s in zip(split, faces, start, strict=False)]
    return Meshes(
        tuple(p.name for p in character.parts),
        start,
        np.concatenate(points).astype(np.float32),
        np.concatenate(quads).astype(np.uint32),
        np.concatenate(others).astype(np.uint32),
        tuple(t for t, _ in split),
    )


def rows_among(vertices: Ints, count: int) -> Ints:
    """For each of `count` vertices its row among `vertices`, -1 where it is none of them."""
    row_of = np.full(count, -1, np.int32)
    row_of[vertices] = np.arange(len(vertices))
    return row_of


def followers_of(parts: Sequence[tuple[slice, Ints]]) -> tuple[Ints, Ints]:
    """Of parts that follow another surface, each as where its vertices stand among those of all parts and the row that each follows, -1
    for none: the vertices that follow and their rows, (L,) each, the rows rising, as loops over those rows meet them."""
    vertices = np.concatenate([np.zeros(0), *(np.arange(own.start, own.stop) for own, _ in parts)])
    rows = np.concatenate([np.zeros(0), *(rows for _, rows in parts)])
    order = np.argsort(rows, kind="stable")
    order = order[rows[order] >= 0]
    return read_only(vertices[order].astype(np.int32)), read_only(rows[order].astype(np.int32))
