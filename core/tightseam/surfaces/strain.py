"""How a pose strains a skin: what is stretched, squeezed, turned over, and what stands out of its surroundings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.read_only import read_only
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Bools, Floats, Ints

SLIVER = 0.05  # of the square of a triangle's longest edge that its area normal has to be; for it to turn, by what its rings agree on
SHORT = 1e-9  # cm


@dataclass(frozen=True)
class Strain:
    """Of some triangles (K,): how many times as long as at rest they are the way in which they are longest, and as short in which they
    are shortest (the largest singular value of the deformation gradient, and one over the smallest; of slivers, which have no height to
    speak of, the ratios of their sides); and which have `turned` over against
    the surface round them. Of some vertices (L,): how far each stands out of its neighbours beyond what it does in the neutral, the turn
    of its surroundings taken out, as a share of its mean edge (Laplacian coordinates in local frames, Sorkine et al. 2004)."""

    stretch: Floats
    squeeze: Floats
    turned: Bools
    crumple: Floats


class StrainGauge:
    """Measures a mesh against its neutral. It has no buffers: several callers may read at once."""

    def __init__(self, mesh: SurfaceMesh) -> None:
        self._rest = read_only(mesh.points, np.float64)
        self._triangles = read_only(mesh.triangles, np.int64)
        ring = mesh.neighbours.tocsr()
        self._starts, self._others = read_only(ring.indptr, np.int64), read_only(ring.indices, np.int64)
        count = np.maximum(np.diff(self._starts), 1)
        own = np.repeat(np.arange(len(mesh)), np.diff(self._starts))
        arm = self._rest[self._others] - self._rest[own]
        self._edge = read_only(np.maximum(np.bincount(own, np.linalg.norm(arm, axis=1), len(mesh)) / count, SHORT))
        self._out = read_only(-np.stack([np.bincount(own, arm[:, k], len(mesh)) for k in range(3)], axis=1) / count[:, None])
        u, v = (self._rest[self._triangles[:, k]] - self._rest[self._triangles[:, 0]] for k in (1, 2))
        normals = np.cross(u, v)
        self.areas = read_only(np.linalg.norm(normals, axis=1) / 2)
        self._normals, self._flat = read_only(normals), read_only(_laid_flat(u, v))
        longest = np.linalg.norm(np.stack([u, v, v - u]), axis=2).max(axis=0)
        self._least = read_only(SLIVER * longest**2)
        self._every = read_only(np.arange(len(self._triangles))), read_only(np.arange(len(mesh)))

    def read(self, posed: Floats, rows: Ints | None = None, vertices: Ints | None = None) -> Strain:
        """The strain of a posed mesh (N, 3) at some triangles (K,) and vertices (L,), or at all of them. Slivers never turn: they do at a
        breath; nor does what lies where the turns of the rings have little in common."""
        from tightseam.surfaces.strain_kernels import strain  # nothing else here needs a compiler

        rows = self._every[0] if rows is None else read_only(rows, np.int64)
        vertices = self._every[1] if vertices is None else read_only(vertices, np.int64)
        out = np.empty(len(rows)), np.empty(len(rows)), np.empty(len(rows), np.bool_), np.empty(len(vertices))
        rings = self._starts, self._others, self._out, self._edge
        faces = self._triangles, self._flat, self._normals, self._least
        strain(read_only(posed, np.float64), self._rest, rings, faces, rows, vertices, out)
        return Strain(*out)


def _laid_flat(u: Floats, v: Floats) -> Floats:
    """The inverse of triangles laid flat, one side along the first axis, by two sides (T, 3) each: upper right triangles (T, 3)."""
    length = np.maximum(np.linalg.norm(u, axis=1), SHORT)
    along = (u * v).sum(axis=1) / length
    height = np.maximum(np.linalg.norm(np.cross(u, v), axis=1) / length, SHORT)
    return np.stack([1 / length, -along / (length * height), 1 / height], axis=1)
