"""How far regions of the posed skin have sunk in."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.membrane import Membrane
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Bools, Floats, Ints


class Hollow:
    """Measures a patch of a skin against the membrane that its rim would carry it with, the detail of the neutral put back."""

    def __init__(self, mesh: SurfaceMesh, patch: Bools) -> None:
        self._neutral = mesh.points
        self._membrane = Membrane(mesh, patch)
        self.vertices = self._membrane.inside
        touched = np.isin(mesh.triangles, self.vertices).any(axis=1)
        self._near = mesh.triangles[touched]
        self.hangs_on: Ints = np.union1d(self._membrane.rim, self._near)

    def most(self, posed: Floats) -> Floats:
        """What none of the patch's vertices (K,) is deeper than, cm: how far it is from its place on the fair surface."""
        filled = self._neutral[self.vertices] + self._membrane.filled(posed - self._neutral)
        return np.asarray(np.linalg.norm(filled - posed[self.vertices], axis=1))

    def depths(self, posed: Floats) -> Floats:
        """Depth (K,) in cm of the patch's `vertices` below the fair surface, negative where they stand out, for the skin (N, 3) in the
        space of the head."""
        back, normals = self.back(posed)
        return np.asarray((back * normals).sum(axis=1))

    def back(self, posed: Floats) -> tuple[Floats, Floats]:
        """The way (K, 3) in cm from each of the patch's `vertices` to its place on the fair surface, and the normals (K, 3) there."""
        fair = posed.copy()
        fair[self.vertices] = self._neutral[self.vertices] + self._membrane.filled(posed - self._neutral)
        return (fair - posed)[self.vertices], vertex_normals(fair, self._near)[self.vertices]
