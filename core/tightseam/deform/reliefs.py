"""Reliefs laid out for evaluation: each an offset of some vertices, for a strength that its links give."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tightseam.deform.curves import compile_curve
from tightseam.deform.meshes import Meshes
from tightseam.deform.shape_runs import ShapeRuns, pack_runs
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import CurveKeys, Point, Relief
from tightseam.geometry.normals import unit, vertex_normals
from tightseam.geometry.polyline import arc_length
from tightseam.geometry.types import Floats, Ints

SAMPLES = 129  # places of a line that are looked at


def compile_reliefs(reliefs: Sequence[Relief], store: ArrayStore, meshes: Meshes) -> ShapeRuns:
    """Offsets at strength 1 as runs, exaggerated as they are; muted ones move nothing."""
    found = []
    for relief in reliefs:
        rows = meshes.rows(relief.part)
        vertices, offsets = relief_offsets(relief, store, meshes)
        order = np.argsort(vertices)
        kept = order[:0] if relief.muted else order
        found.append((vertices[kept].astype(np.int64) + rows.start, relief.exaggerate * offsets[kept]))
    return pack_runs(tuple(r.name for r in reliefs), found)


def relief_offsets(relief: Relief, store: ArrayStore, meshes: Meshes) -> tuple[Ints, Floats]:
    """The vertices (K,) of its part that a relief moves and by how much, (K, 3) cm, at strength 1."""
    vertices, region = np.asarray(store.get(relief.vertices)), np.asarray(store.get(relief.region)).astype(float)
    rest = meshes.rest[meshes.rows(relief.part)].astype(float)
    normals = vertex_normals(rest, meshes.part_triangles[meshes.names.index(relief.part)])[vertices]
    amount = relief.cm * region * along_line(relief.line, relief.profile, rest[vertices])
    if relief.direction == "out":
        return vertices, amount[:, None] * normals
    way = unit(np.array([relief.way], float))
    return vertices, amount[:, None] * (way - (way * normals).sum(axis=1)[:, None] * normals)


def along_line(line: Sequence[Point], profile: CurveKeys, points: Floats) -> Floats:
    """What a profile along a line gives for points (K, 3), (K,); 1 everywhere where there is neither."""
    if not line or not profile:
        return np.ones(len(points))
    return np.asarray(compile_curve(profile)(place_along(line, points)))


def place_along(line: Sequence[Point], points: Floats) -> Floats:
    """Where along a line points (K, 3) are, (K,): -1 at its first end, 0 half-way along it, 1 at its last. Weighted by how near its
    places are (Shepard 1968), so that it does not jump where two stretches of a bent line are equally far."""
    corners = np.array(line, float)
    at = arc_length(corners)
    t = np.linspace(0, 1, SAMPLES)
    samples = np.stack([np.interp(t * at[-1], at, corners[:, axis]) for axis in range(3)], axis=1)
    far = ((points[:, None] - samples[None]) ** 2).sum(axis=2)
    weight = 1 / (far + (1e-4 * at[-1]) ** 2) ** 2
    return np.asarray(weight @ (2 * t - 1) / weight.sum(axis=1))
