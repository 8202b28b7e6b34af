"""Shapes from delivered meshes: what stands between a target and the neutral is recognised, and put right where that can be done."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix
from scipy.spatial import cKDTree

from tightseam.document.errors import BadRequest
from tightseam.document.labels import vertices_said
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.adjacency import edges, neighbours
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints
from tightseam.shapes.strays import STILL, strays

SAME = 1e-4  # cm within which points are the same
MOST = 0.5  # of the vertices that have to agree on an offset or a transform
STRAY = 0.3  # cm that a vertex moves by itself, while none beside it does
SCRAMBLED = 1.5  # times as long that edges are in the middle where the order is another
LEAST_KNOWN = 2  # neighbours that tell which vertex is which
ROUNDS = 12


@dataclass(frozen=True)
class Target:
    """Offsets (N, 3) in cm from the neutral, in its order, and in words what was found and done on the way; strays (K,) were left out."""

    offsets: Floats
    notes: tuple[str, ...]
    strays: Ints


def target_of(rest: Floats, polygons: Polygons, points: Floats, faces: Polygons, what: str) -> Target:
    """A target (N, 3) against the neutral `rest` (N, 3). BadRequest where their counts differ, or the order is another one that cannot be
    told for sure."""
    if len(points) != len(rest):
        raise BadRequest(f"{what} has {len(points):,} vertices, the part has {len(rest):,}. A target keeps every vertex of the neutral.")
    if not np.isfinite(points).all():
        raise BadRequest(f"{what} has a vertex that is not at a finite place.")
    notes: list[str] = []
    if _scrambled(rest, polygons, points):
        points = points[_order(rest, polygons, points, faces, what)]
        notes.append("Its vertices came in another order; they were put back.")
    points, said = _plain(rest, points)
    notes += said
    offsets = points - rest
    far = np.linalg.norm(offsets, axis=1)
    noise = (far > 0) & (far < STILL)
    offsets[noise] = 0
    if noise.any() and far[noise].max() > SAME:
        notes.append(f"{vertices_said(int(noise.sum()))} moved by less than {CM_TO_MM * STILL:g} mm and were cleaned.")
    alone = strays(neighbours(polygons, len(offsets)), offsets, STRAY)
    if len(alone):
        notes.append(f"{vertices_said(len(alone))} moved alone by up to {CM_TO_MM * far[alone].max():.1f} mm and were left out.")
        offsets[alone] = 0
    return Target(offsets, tuple(notes), alone)


def _scrambled(rest: Floats, polygons: Polygons, points: Floats) -> bool:
    """Are edges of the neutral far longer between the target's vertices? A shape stretches some of them, another order most."""
    ends = edges(polygons, len(rest)).ends
    was, now = (np.linalg.norm(x[ends[:, 0]] - x[ends[:, 1]], axis=1) for x in (rest, points))
    scale = np.median(np.linalg.norm(points - points.mean(axis=0), axis=1)) / np.median(np.linalg.norm(rest - rest.mean(axis=0), axis=1))
    return bool(np.median(now / np.maximum(scale * was, 1e-9)) > SCRAMBLED)


def _order(rest: Floats, polygons: Polygons, points: Floats, faces: Polygons, what: str) -> Ints:
    """For each vertex of the neutral the number of the target's, (N,): those that did not move by their place, the others by which of
    their neighbours are known, as long as only one fits."""
    far, at = cKDTree(points).query(rest)
    order: Ints = np.where(far < SAME, at, -1)
    claimed, times = np.unique(order, return_counts=True)
    order[np.isin(order, claimed[times > 1])] = -1
    ours, theirs = neighbours(polygons, len(rest)), neighbours(faces, len(points))
    placed = True
    while placed and (order < 0).any():
        placed = False
        taken: Ints = np.where(np.isin(np.arange(len(points)), order), np.arange(len(points)), -1)
        fitting: dict[frozenset[int], list[int]] = {}
        for v in np.flatnonzero(taken < 0).tolist():
            fitting.setdefault(_known_beside(theirs, v, taken), []).append(v)
        for v in np.flatnonzero(order < 0).tolist():
            known = _known_beside(ours, v, order)
            if len(known) >= LEAST_KNOWN and len(fitting.get(known, ())) == 1:
                order[v] = fitting.pop(known)[0]
                placed = True
    left = int((order < 0).sum())
    if left or len(np.unique(order)) != len(order):
        said = vertices_said(max(left, 1))
        raise BadRequest(f"{what} came in another order, and {said} cannot be told apart. Export it in the order of the neutral.")
    return order


def _known_beside(beside: csr_matrix, vertex: int, order: Ints) -> frozenset[int]:
    """The target's numbers of those neighbours of a vertex that have one."""
    near = order[beside.indices[beside.indptr[vertex] : beside.indptr[vertex + 1]]]
    return frozenset(near[near >= 0].tolist())


def _plain(rest: Floats, points: Floats) -> tuple[Floats, list[str]]:
    """The target without a constant offset or a hidden transform, and what was taken out. What most vertices agree on is neither
    expression nor noise: by robust least squares (Umeyama 1991) on the half that fits best, again and again."""
    if np.quantile(np.linalg.norm(points - rest, axis=1), MOST) <= SAME:
        return points, []
    kept = np.ones(len(rest), bool)
    for _ in range(ROUNDS):
        scale, turn, shift = _similarity(rest[kept], points[kept])
        off = np.linalg.norm((points - shift) @ turn / scale - rest, axis=1)
        kept = off <= max(float(np.quantile(off, MOST)), SAME)
    if off[kept].max() > 10 * SAME:
        return points, []  # most of it moves: that is the shape
    plain = (points - shift) @ turn / scale
    angle = float(np.degrees(np.arccos(np.clip((np.trace(turn) - 1) / 2, -1, 1))))
    if abs(scale - 1) > 1e-4 or angle > 0.01:
        return plain, [f"A hidden transform was taken out: {scale:.4g} times as large, turned by {angle:.2f}°."]
    moved = float(np.linalg.norm(rest[kept].mean(axis=0) - points[kept].mean(axis=0)))
    if moved > SAME:
        return points + np.median((rest - points)[kept], axis=0), [f"A constant offset of {CM_TO_MM * moved:.2f} mm was taken out."]
    return points, []


def _similarity(source: Floats, target: Floats) -> tuple[float, Floats, Floats]:
    """Scale, rotation (3, 3; columns) and shift with target ≈ scale · source · rotationᵀ + shift, by least squares (Umeyama 1991)."""
    middle, there = source.mean(axis=0), target.mean(axis=0)
    u, s, vt = np.linalg.svd((target - there).T @ (source - middle))
    sign = np.array([1, 1, np.sign(np.linalg.det(u @ vt))])
    turn = u @ np.diag(sign) @ vt
    scale = float((s * sign).sum() / max(((source - middle) ** 2).sum(), 1e-12))
    return scale, turn, there - scale * turn @ middle
