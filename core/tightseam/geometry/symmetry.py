"""The plane a mesh is symmetric about, and which vertex is whose mirror image."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from tightseam.geometry.distinct import Distinct
from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints

SAMPLE = 3000
SYMMETRIC = 0.05  # cm within which a vertex counts as the mirror image of another


@dataclass(frozen=True)
class Plane:
    """Through `point` (3,), with unit `normal` (3,)."""

    point: Floats
    normal: Floats

    def distance(self, points: Floats) -> Floats:
        """Signed distance (N,) of points (N, 3), positive on the side the normal points to."""
        return np.asarray((points - self.point) @ self.normal)

    def mirrored(self, points: Floats) -> Floats:
        return np.asarray(points - 2 * self.distance(points)[:, None] * self.normal)


MIDDLE = Plane(np.zeros(3), np.array([1.0, 0.0, 0.0]))


def partners(points: Floats, tolerance: float, plane: Plane = MIDDLE) -> Ints:
    """Index of the vertex nearest to each vertex's mirror image, (N,), or -1 where none lies within `tolerance` (cm)."""
    apart = Distinct.of(points)
    distance, index = cKDTree(apart.places).query(plane.mirrored(points))
    return np.where(distance <= tolerance, apart.first[index], -1)


def symmetry_map(points: Floats, polygons: Polygons, plane: Plane, tolerance: float) -> Ints:
    """Partner of every vertex, (N,), -1 where none is found; partners of partners are the vertices themselves.

    First by position: the nearest vertex to the mirror image within `tolerance` cm, where each is the nearest to the other.
    Then by walking: a face with a matched edge is laid on the face across the plane that has that edge the other way round.
    """
    found = partners(points, tolerance, plane)
    own = np.arange(len(points))
    found = np.where((found >= 0) & (found[np.maximum(found, 0)] == own), found, -1)
    corners, starts, sizes = polygons.corners, polygons.starts, polygons.sizes
    waiting = np.flatnonzero((found[corners] < 0) & (np.repeat(_matched_counts(found, polygons), sizes) >= 2))
    faces = np.unique(polygons.face_of_corner[waiting]).tolist()
    if not faces:
        return found
    at_edge = _FacesByEdge(polygons, len(points))
    queued = set(faces)
    while faces:
        f = faces.pop()
        queued.discard(f)
        face = corners[starts[f] : starts[f] + sizes[f]].tolist()
        for v, image in _laid_over(face, found, at_edge, corners, starts, sizes):
            if found[v] < 0 and found[image] < 0:
                found[v], found[image] = image, v
                for beside in at_edge.around(v):
                    if beside not in queued and (found[corners[starts[beside] : starts[beside] + sizes[beside]]] < 0).any():
                        queued.add(beside)
                        faces.append(beside)
    return found


class _FacesByEdge:
    """Which face has a directed edge, and which faces are at a vertex."""

    def __init__(self, polygons: Polygons, count: int) -> None:
        a = polygons.corners.astype(np.int64)
        self._key = a * count + a[polygons.next_corner]
        self._order = np.argsort(self._key, kind="stable")
        self._sorted = self._key[self._order]
        self._count = count
        self._face = polygons.face_of_corner
        by_vertex = np.argsort(a, kind="stable")
        self._by_vertex = self._face[by_vertex]
        self._first = np.searchsorted(a[by_vertex], np.arange(count + 1))

    def face(self, a: int, b: int) -> int | None:
        key = a * self._count + b
        k = int(np.searchsorted(self._sorted, key))
        return int(self._face[self._order[k]]) if k < len(self._sorted) and self._sorted[k] == key else None

    def around(self, v: int) -> list[int]:
        return list(self._by_vertex[self._first[v] : self._first[v + 1]].tolist())


def _matched_counts(found: Ints, polygons: Polygons) -> Ints:
    return np.bincount(polygons.face_of_corner, found[polygons.corners] >= 0, len(polygons)).astype(int)


def _laid_over(face: list[int], found: Ints, at_edge: _FacesByEdge, corners: Ints, starts: Ints, sizes: Ints) -> Iterable[tuple[int, int]]:
    n = len(face)
    for k in range(n):
        a, b = face[k], face[(k + 1) % n]
        if found[a] < 0 or found[b] < 0:
            continue
        other = at_edge.face(int(found[b]), int(found[a]))
        if other is None or sizes[other] != n:
            continue
        image = corners[starts[other] : starts[other] + n].tolist()
        first = image.index(int(found[a]))
        return [(face[(k + j) % n], image[(first - j) % n]) for j in range(n)]
    return []


def estimate_plane(points: Floats, starts: Iterable[Plane], rounds: int = 40) -> tuple[Plane, float]:
    """The mirror plane of points (N, 3), and the median distance (cm) between mirror images and their nearest points.

    From each start: iterated closest points (Besl & McKay 1992) between the points and their mirror image; in each round the
    best plane is known in closed form: its normal is the eigenvector of the smallest eigenvalue of the symmetric part of
    Σ p qᵀ, with p and q about their means. Pairs three times farther apart than the median are left out. The start with the
    smallest median wins.
    """
    places = Distinct.of(points).places
    tree = cKDTree(places)
    sample = points[:: max(1, len(points) // SAMPLE)]
    coarse = sample[:: max(1, len(sample) // 600)]
    candidates = [_refined(tree, places, coarse, start, 12) for start in starts]
    best = min(candidates, key=lambda found: found[1])[0]
    return _refined(tree, places, sample, best, rounds)


def _refined(tree: cKDTree, points: Floats, sample: Floats, plane: Plane, rounds: int) -> tuple[Plane, float]:
    spread = np.inf
    for _ in range(rounds):
        distance, index = tree.query(plane.mirrored(sample))
        spread_now = float(np.median(distance))
        kept = distance <= max(3 * spread_now, 1e-9)
        p, q = sample[kept], points[index[kept]]
        middle = (p.mean(axis=0) + q.mean(axis=0)) / 2
        product = (p - p.mean(axis=0)).T @ (q - q.mean(axis=0))
        _, vectors = np.linalg.eigh(product + product.T)
        normal = vectors[:, 0] * (1.0 if vectors[:, 0] @ plane.normal > 0 else -1.0)
        plane = Plane(middle, unit(normal))
        if spread_now >= spread * 0.9999 and spread_now <= spread:
            spread = spread_now
            break
        spread = spread_now
    return plane, spread
