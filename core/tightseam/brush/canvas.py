"""What a brush needs to know of a part, whatever it paints and in whatever pose."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.model import Character, Part
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.reach import Reach
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.symmetry import SYMMETRIC, Plane, symmetry_map
from tightseam.geometry.types import Floats, Ints
from tightseam.head.found import plane_of


class Canvas:
    """The mesh of a part in its neutral, and the plane between left and right."""

    def __init__(self, mesh: SurfaceMesh, plane: Plane) -> None:
        self.mesh = mesh
        self.plane = plane

    def reach(self) -> Reach:
        """Distances from one place after another, with buffers for one caller."""
        return Reach(self.mesh.fans)

    @cached_property
    def partners(self) -> Ints:
        """The vertex on the other side of each, (N,), -1 where there is none."""
        return symmetry_map(self.mesh.points, self.mesh.polygons, self.plane, SYMMETRIC)

    def mirrored(self, vertices: Ints, amount: Floats) -> tuple[Ints, Floats]:
        """The mirror images of vertices (K,), sorted, as far as there are any, with the amounts (K,) of theirs."""
        image = self.partners[vertices]
        known = image >= 0
        order = np.argsort(image[known])
        return image[known][order], amount[known][order]

    def normals(self, points: Floats, vertices: Ints) -> Floats:
        """Normals (K, 3) of some vertices of the posed part, by the areas of the triangles round them; not of length one."""
        first, count = self.mesh.fans.start[vertices], np.diff(self.mesh.fans.start)[vertices]
        owner = np.repeat(np.arange(len(vertices)), count)
        at = np.arange(len(owner)) - np.repeat(np.cumsum(count) - count, count) + first[owner]
        corners = points[self.mesh.fans.triangles[self.mesh.fans.order[at]]]
        across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        return np.stack([np.bincount(owner, across[:, k], len(vertices)) for k in range(3)], axis=1)


def canvas_of(character: Character, store: ArrayStore, part: Part) -> Canvas:
    """The canvas of a part, with the plane that its head is symmetric about."""
    plane = plane_of(character, store)
    key = ("canvas", part.points, part.sizes, part.corners, plane.point.tobytes(), plane.normal.tobytes())
    return DERIVED.get(key, lambda: Canvas(part_mesh(store, part), plane))
