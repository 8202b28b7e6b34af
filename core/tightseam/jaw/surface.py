"""Where the posed skin is broken: folded triangles, and vertices that jump out of their surroundings."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix, diags

from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Bools, Floats

STILL = 1e-5  # cm below which a ring has not stirred: the noise of 32 bits
SLIVER = 0.05  # of the square of its longest edge that a triangle's height times that has to be


class Rings:
    """The ring of neighbours round each vertex of a mesh at rest, points (N, 3)."""

    def __init__(self, points: Floats, beside: csr_matrix) -> None:
        pairs = beside.tocoo()
        self._from, self._to = pairs.row, pairs.col
        self._arm = points[self._to] - points[self._from]

    def turns(self, posed: Floats) -> Floats:
        """The rotation (N, 3, 3) that takes each ring nearest to where it is posed, (N, 3) (Kabsch 1976)."""
        arm = posed[self._to] - posed[self._from]
        stirred = np.unique(self._from[np.abs(arm - self._arm).max(axis=1) > STILL])
        covariance = np.empty((len(stirred), 3, 3))
        for i in range(3):
            for j in range(3):
                covariance[:, i, j] = np.bincount(self._from, arm[:, i] * self._arm[:, j], len(posed))[stirred]
        u, _, vt = np.linalg.svd(covariance)
        u[:, :, 2] *= np.where(np.linalg.det(u @ vt) < 0, -1.0, 1.0)[:, None]
        turns = np.tile(np.eye(3), (len(posed), 1, 1))
        turns[stirred] = u @ vt
        return turns


class SkinSurface:
    """Measures a skin against its neutral."""

    def __init__(self, mesh: SurfaceMesh) -> None:
        neutral = self._neutral = mesh.points
        self._triangles = mesh.triangles
        beside = mesh.neighbours.astype(float)
        degree = np.maximum(np.asarray(beside.sum(axis=1)).ravel(), 1)
        self._average = csr_matrix(diags(1 / degree) @ beside)
        pairs = beside.tocoo()
        arm = np.linalg.norm(neutral[pairs.col] - neutral[pairs.row], axis=1)
        self._edge = np.bincount(pairs.row, arm, len(neutral)) / degree
        self._rings = Rings(neutral, beside)

    def read(self, posed: Floats) -> tuple[Bools, Floats]:
        """Triangles (T,) of the posed skin that have turned over against the surface round them, slivers left out, which do at a breath;
        and how far (N,) each vertex stands out of its neighbours beyond what it does in the neutral, the turn of its surroundings taken
        out, as a share of its mean edge (Laplacian coordinates in local frames, Sorkine et al. 2004)."""
        turns = self._rings.turns(posed)
        return self._flipped(posed, turns), self._crumpled(posed, turns)

    def _flipped(self, posed: Floats, turns: Floats) -> Bools:
        corners, rest = posed[self._triangles], self._neutral[self._triangles]
        turn = turns[self._triangles].mean(axis=1)
        was = np.einsum("tij,tj->ti", turn, np.cross(rest[:, 1] - rest[:, 0], rest[:, 2] - rest[:, 0]))
        now = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        longest = np.linalg.norm(rest - np.roll(rest, 1, axis=1), axis=2).max(axis=1)
        return np.asarray(((was * now).sum(axis=1) < 0) & (np.linalg.norm(was, axis=1) > SLIVER * longest**2))

    def _crumpled(self, posed: Floats, turns: Floats) -> Floats:
        own, rest = posed - self._average @ posed, self._neutral - self._average @ self._neutral
        return np.asarray(np.linalg.norm(own - np.einsum("nij,nj->ni", turns, rest), axis=1) / np.maximum(self._edge, 1e-9))
