"""Some vertices of a part with their weights, and what is needed to change them."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
from scipy.sparse import csr_matrix

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons, vertex_mask
from tightseam.document.model import Binding, Character
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.solve import solve_with_fixed
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.symmetry import MIDDLE, SYMMETRIC, Plane, symmetry_map
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.weights.rows import rows_of


class Patch:
    """`vertices` (K,) of a part, sorted, with their weights `rows` (K, B) over all `bones`; `free` (B,) are those that may change.

    BadRequest where the part, a vertex or a locked bone is not there.
    """

    def __init__(self, character: Character, store: ArrayStore, part: str, vertices: Sequence[int], locked: Sequence[str]) -> None:
        self.character = character
        self.store = store
        self.part = find_part(character, part)
        self.vertices = self._picked(vertices)
        self.bones = [b.name for b in character.bones]
        held = {find_bone(character, name).name for name in locked}
        self.free: Bools = np.array([name not in held for name in self.bones], bool)
        self.binding = find_binding(character, part) or Binding(part, "weighted", ())
        self.rows = self._rows(self.vertices)

    def column(self, bone: str) -> int:
        """The column of a bone; BadRequest for one that is locked or not there."""
        k = self.bones.index(find_bone(self.character, bone).name)
        if not self.free[k]:
            raise BadRequest(f"{self.character.bones[k].label} is locked. Unlock it to change its weights.")
        return k

    @cached_property
    def islands(self) -> Ints:
        """The island of each picked vertex, numbered from 0."""
        found = self._mesh.islands[self.vertices]
        return np.asarray(np.unique(found, return_inverse=True)[1])

    @property
    def _mesh(self) -> SurfaceMesh:
        return part_mesh(self.store, self.part)

    @cached_property
    def _laplacian(self) -> csr_matrix:
        return self._mesh.laplacian[0]

    @cached_property
    def surroundings(self) -> tuple[Ints, Ints, csr_matrix, Floats]:
        """The vertices beside the patch with it, by the mesh or by its intrinsic Delaunay triangulation, which of them are picked, what
        averages the neighbours of those (rows sum to 1, by cotangents), and the weights of all."""
        beside, average = self._mesh.neighbours[self.vertices], self._mesh.average[self.vertices]
        around = np.unique(np.concatenate([self.vertices, beside.indices, average.indices]))
        chosen = np.searchsorted(around, self.vertices)
        average = average[:, around]
        return around, chosen, average, self._rows(around)

    def mended(self) -> Floats:
        """The picked rows as their surroundings would have them, totals 1: the smoothest that meets the weights at their border (the
        Laplace equation, cotangents of the intrinsic Delaunay triangulation). BadRequest where a picked island has no border."""
        around, chosen, _, rows = self.surroundings
        border = np.setdiff1d(np.arange(len(around)), chosen)
        reached = self._mesh.islands
        if not np.isin(reached[self.vertices], reached[around[border]]).all():
            raise BadRequest("What is to be mended has no surroundings to go by. Give it to a bone instead.")
        local = self._laplacian[around][:, around]
        fixed = np.zeros(len(around), bool)
        fixed[border] = True
        solved = solve_with_fixed(csr_matrix(local), np.zeros_like(rows), fixed, rows)[chosen]
        solved = np.maximum(solved, 0)
        total = solved.sum(axis=1, keepdims=True)
        return np.asarray(np.divide(solved, total, out=solved, where=total > 0))

    def mirrored(self, plane: Plane = MIDDLE) -> Ints:
        """The vertex on the other side of each picked one, (K,), -1 where there is none."""
        points = np.asarray(self.store.get(self.part.points))
        return symmetry_map(points, polygons(self.store, self.part), plane, SYMMETRIC)[self.vertices]

    @property
    def twins(self) -> Ints:
        """The column of each bone's twin, (B,), its own where it has none."""
        column = {name: k for k, name in enumerate(self.bones)}
        return np.array([column.get(b.twin or b.name, column[b.name]) for b in self.character.bones], int)

    def _rows(self, vertices: Ints) -> Floats:
        return rows_of(self.store, self.binding.influences, self.bones, vertices)

    def _picked(self, vertices: Sequence[int]) -> Ints:
        if not len(vertices):
            raise BadRequest("No vertices are picked.")
        return np.flatnonzero(vertex_mask(self.part, vertices))
