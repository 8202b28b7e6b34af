"""A document laid out for evaluation: all parts in one row of vertices, shapes as runs, influences as a table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadDocument
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, EyeRelief, Shape
from tightseam.geometry.triangulate import triangulate_with_faces
from tightseam.geometry.types import Floats, Ints
from tightseam.weights.rows import MOST_INFLUENCES


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


@dataclass(frozen=True)
class ShapeRuns:
    """Offsets of all shapes as runs of consecutive vertices; the arguments of the blend kernel."""

    names: tuple[str, ...]
    run_of_shape: Ints
    run_start: Ints
    run_length: Ints
    run_values: Ints
    values: Floats


@dataclass(frozen=True)
class Influences:
    """Bone numbers (N, K) and weights (N, K), K = 4 or 8, the largest first; unused places have weight 0."""

    bones: Ints
    weights: Floats


@dataclass(frozen=True)
class CompiledEye:
    """Centre (3,) and profile of an eye part, and the mean weights (B,) by which the bones carry it."""

    part: str
    centre: Floats
    profile: Floats
    weights: Floats

    @cached_property
    def carrier(self) -> int | None:
        """The number of the bone that carries it alone, None where several do or none."""
        found = np.flatnonzero(self.weights)
        return int(found[0]) if len(found) == 1 else None


@dataclass(frozen=True)
class CompiledRelief:
    """One eye relief with global vertex numbers. `lid` (K,) is the number of the lid with which each vertex swells, counted over the
    lids of all eyes, the upper one of each first; -1 for none."""

    eye: CompiledEye
    vertices: Ints
    amount: Floats
    clearance: Floats
    settle: Floats
    swell: Floats
    lid: Ints
    follower_vertices: Ints
    follower_rows: Ints

    def clearance_at(self, closing: Floats) -> Floats:
        """Clearance (K,) in cm for the closing of all lids, (2 E,): all of the swell when closed, most of it half-way."""
        if not len(closing) or not closing.any():
            return self.clearance
        k = np.append(np.minimum(np.maximum(closing, 0), 1), 0.0)
        found = (k * (2 - k)).astype(np.float32)[self.lid]
        found *= self.swell
        found += self.clearance
        return found

    def clearance_of_own(self, closing: float) -> Floats:
        """As `clearance_at`, with all lids closed alike."""
        return self.clearance_at(np.full(self.lid.max(initial=0) + 1, closing))


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


def compile_shapes(shapes: Sequence[Shape], store: ArrayStore, meshes: Meshes) -> ShapeRuns:
    per_shape: list[tuple[Ints, Floats]] = []
    for shape in shapes:
        rows = [np.asarray(store.get(d.vertices)).astype(np.int64) + meshes.rows(d.part).start for d in shape.deltas]
        offsets = [np.asarray(store.get(d.offsets)) for d in shape.deltas]
        vertices = np.concatenate(rows) if rows else np.zeros(0, np.int64)
        order = np.argsort(vertices)
        per_shape.append((vertices[order], (np.concatenate(offsets) if rows else np.zeros((0, 3)))[order]))
    return pack_runs(tuple(s.name for s in shapes), per_shape)


def pack_runs(names: tuple[str, ...], per_shape: Sequence[tuple[Ints, Floats]]) -> ShapeRuns:
    """Runs from (sorted vertices (K,), offsets (K, 3)) per shape."""
    of_shape, used = [0], 0
    starts: list[int] = []
    lengths: list[int] = []
    places: list[int] = []
    chunks: list[Floats] = []
    for vertices, offsets in per_shape:
        bounds = np.concatenate([[0], np.flatnonzero(np.diff(vertices) != 1) + 1, [len(vertices)]]) if len(vertices) else np.zeros(1, int)
        first = bounds[:-1]
        starts += vertices[first].tolist()
        lengths += np.diff(bounds).tolist()
        places += (used + 3 * first).tolist()
        chunks.append(np.asarray(offsets, np.float32).reshape(-1))
        used += chunks[-1].size
        of_shape.append(len(starts))
    whole = [np.array(x, np.int64) for x in (of_shape, starts, lengths, places)]
    return ShapeRuns(names, whole[0], whole[1], whole[2], whole[3], np.concatenate([*chunks, np.zeros(1, np.float32)]))


def compile_influences(character: Character, store: ArrayStore, meshes: Meshes) -> Influences:
    """The table of influences; helper bones contribute nothing, totals are left as they are, what is unbound or rides does not move."""
    row = {b.name: k for k, b in enumerate(character.bones)}
    helpers = {b.name for b in character.bones if b.role == "helper"}
    vertices, bones, weights = [], [], []
    for part in character.parts:
        found = find_binding(character, part.name)
        for i in found.influences if found else ():
            if i.bone not in helpers:
                at = np.asarray(store.get(i.vertices)).astype(np.int64) + meshes.rows(part.name).start
                vertices.append(at)
                bones.append(np.full(len(at), row[i.bone]))
                weights.append(np.asarray(store.get(i.weights)))
    bound = {b.part for b in character.bindings if b.ride is None}
    still = [meshes.rows(p.name) for p in character.parts if p.name not in bound]
    unbound = np.concatenate([np.arange(r.start, r.stop) for r in still]) if still else np.zeros(0, np.int64)
    # bone number B stands for "nothing carries it": the evaluator gives it the identity
    vertices.append(unbound)
    bones.append(np.full(len(unbound), len(row)))
    weights.append(np.ones(len(unbound)))
    return influence_table(np.concatenate(vertices), np.concatenate(bones), np.concatenate(weights), len(meshes.rest))


def influence_table(vertices: Ints, bones: Ints, weights: Floats, count: int) -> Influences:
    """Table from triples (vertex, bone, weight), at most 8 a vertex."""
    order = np.lexsort((-weights, vertices))
    v, b, w = vertices[order], bones[order], weights[order]
    first = np.searchsorted(v, np.arange(count))
    place = np.arange(len(v)) - first[v]
    most = int(place.max()) + 1 if len(place) else 1
    if most > MOST_INFLUENCES:
        raise BadDocument(f"A vertex has {most} influences; {MOST_INFLUENCES} are the most that can be posed.")
    width = 4 if most <= 4 else 8
    table_bones, table_weights = np.zeros((count, width), np.uint16), np.zeros((count, width), np.float32)
    table_bones[v, place], table_weights[v, place] = b, w
    return Influences(table_bones, table_weights)


@dataclass(frozen=True)
class DualMix:
    """Global `vertices` (K,), sorted, that are skinned by dual quaternions too, how much of that is mixed in, `mix` (K,), and the ranges of
    vertices that have to be skinned linearly for all that."""

    vertices: Ints
    mix: Floats
    linear: tuple[slice, ...]

    def of(self, rows: Ints) -> Floats:
        """What is mixed in at any vertices, (R,)."""
        at = np.minimum(np.searchsorted(self.vertices, rows), len(self.vertices) - 1)
        return np.where(self.vertices[at] == rows, self.mix[at], 0).astype(float)


def compile_dual_mix(character: Character, store: ArrayStore, meshes: Meshes) -> DualMix | None:
    """None where all is skinned linearly."""
    whole = np.zeros(len(meshes.rest), np.float32)
    for b in character.bindings:
        if b.dual is not None and b.ride is None:
            whole[meshes.rows(b.part)] = np.asarray(store.get(b.dual))
    vertices = np.flatnonzero(whole > 0).astype(np.int32)
    if not len(vertices):
        return None
    ends = np.flatnonzero(np.diff(np.concatenate([[0], whole < 1, [0]]).astype(int)))
    return DualMix(vertices, whole[vertices], tuple(slice(int(a), int(b)) for a, b in ends.reshape(-1, 2)))


def compile_relief(relief: EyeRelief, eye: CompiledEye, character: Character, store: ArrayStore, meshes: Meshes) -> CompiledRelief:
    own = np.asarray(store.get(relief.vertices)).astype(np.int64)
    skin = meshes.rows(relief.skin)
    row_of = rows_among(own, skin.stop - skin.start)
    followers = [(meshes.rows(name), row_of[np.asarray(store.get(roots))]) for name, roots in relief.followers]
    return CompiledRelief(
        eye,
        (own + skin.start).astype(np.int32),
        np.asarray(store.get(relief.amount)).astype(np.float32),
        np.asarray(store.get(relief.clearance)).astype(np.float32),
        np.asarray(store.get(relief.settle)).astype(np.float32),
        np.zeros(len(own), np.float32) if relief.swell is None else np.asarray(store.get(relief.swell)).astype(np.float32),
        _lids_of(relief, character, store, len(row_of))[own],
        np.concatenate([np.arange(r.start, r.stop) for r, _ in followers] or [np.zeros(0)]).astype(np.int32),
        np.concatenate([rows for _, rows in followers] or [np.zeros(0)]).astype(np.int32),
    )


def rows_among(vertices: Ints, count: int) -> Ints:
    """For each of `count` vertices its row among `vertices`, -1 where it is none of them."""
    row_of = np.full(count, -1, np.int32)
    row_of[vertices] = np.arange(len(vertices))
    return row_of


def _lids_of(relief: EyeRelief, character: Character, store: ArrayStore, count: int) -> Ints:
    """For each vertex of the skin (count,) the number of the lid about the relief's eye that it belongs to; -1 for none."""
    found = np.full(count, -1)
    for k, lids in enumerate(character.lids):
        if (lids.eye, lids.skin) == (relief.eye, relief.skin):
            found[np.asarray(store.get(lids.vertices))] = 2 * k + 1 - np.asarray(store.get(lids.upper)).astype(int)
    return found


def mean_weights(part: str, character: Character, store: ArrayStore) -> Floats:
    """Mean weights (B,) by which the bones that deform carry a part."""
    count = find_part(character, part).vertex_count
    mean = np.zeros(len(character.bones))
    found = find_binding(character, part)
    for influence in found.influences if found else ():
        k = [b.name for b in character.bones].index(influence.bone)
        if character.bones[k].role == "deform":
            mean[k] += float(np.asarray(store.get(influence.weights)).sum()) / count
    return mean
