"""Surfaces as seams look at them: samples of a part or of a vertex set on it, and the trees of solids."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix

from tightseam.contact.tree import PosedTree, TriangleTree, path_through
from tightseam.deform.evaluator import SHARED, Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Character
from tightseam.geometry.samples import surface_samples
from tightseam.geometry.types import Floats, Ints
from tightseam.seams.place import place
from tightseam.seams.reading import Place


@dataclass(frozen=True)
class Probe:
    """A part, or a vertex set on it: its triangles (T, 3), a matrix `mix` (S, N) that gives its samples (vertices, edge middles and face
    centres), the vertices (S, 3) each is mixed from, a `path` (S,) on which neighbours are near, the vertices (K,) all of it hangs on,
    and its tree."""

    part: str
    triangles: Ints
    mix: csr_matrix
    owners: Ints
    path: Ints
    vertices: Ints
    tree: TriangleTree

    def samples(self, points: Mapping[str, Floats]) -> Floats:
        return np.asarray(self.mix @ points[self.part])

    def posed(self, points: Mapping[str, Floats]) -> PosedTree:
        return self.tree.at(points[self.part])

    def place(self, sample: int, at: Floats) -> Place:
        return place(self.part, int(self.owners[sample, 0]), at)


def probe_of(part: str, set_name: str | None, character: Character, store: ArrayStore, evaluator: Evaluator) -> Probe:
    """The probe of a part, or of a set of its vertices; made once for as long as its mesh stays."""
    found = find_part(character, part)
    mesh = found.points, found.sizes, found.corners

    def made() -> Probe:
        k = evaluator.meshes.names.index(part)
        triangles = evaluator.meshes.part_triangles[k]
        if set_name is not None:
            inside = np.zeros(found.vertex_count, bool)
            inside[vertex_set(store, found, set_name)] = True
            triangles = triangles[inside[triangles].all(axis=1)]
        neutral = np.asarray(store.get(found.points), np.float64)
        mix, owners = surface_samples(triangles, found.vertex_count)
        path = path_through(mix @ neutral)
        return Probe(part, triangles, mix, owners, path, np.unique(triangles), TriangleTree(neutral, triangles))

    key = ("probe", part, *mesh, set_name and found.sets.get(set_name))
    probe: Probe = SHARED.get(key, made)
    return probe
