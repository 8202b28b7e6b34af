"""Skinning: bones carry vertices by their weights, linearly (Magnenat-Thalmann et al. 1988) and where it is asked for mixed with dual
quaternions (Kavan et al. 2008)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from tightseam.deform import backend
from tightseam.deform.dual import dual_of, with_duals
from tightseam.deform.meshes import Meshes, compile_meshes
from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.errors import BadDocument
from tightseam.document.lookup import binding as find_binding
from tightseam.document.model import Character
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints
from tightseam.weights.rows import MOST_INFLUENCES

UNMOVED = np.eye(4).ravel()


@dataclass(frozen=True)
class Influences:
    """Bone numbers (N, K) and weights (N, K), K = 4 or 8, the largest first; unused places have weight 0."""

    bones: Ints
    weights: Floats


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


@dataclass(frozen=True)
class Skinning:
    """The stage: the influences of all vertices, and what is skinned by dual quaternions too. A total that is not 1 is not made 1: what
    you see is the fault."""

    influences: Influences
    dual_mix: DualMix | None

    def apply(self, out: Floats, points: Floats, matrices: Floats) -> None:
        """Send points (N, 3) through bone matrices (B, 4, 4) to `out` (N, 3)."""
        table, mix, loops = self.influences, self.dual_mix, backend.current()
        rows = packed(matrices)
        for own in (slice(None),) if mix is None else mix.linear:
            loops.skin(out[own], *map(read_only, (points[own], table.bones[own], table.weights[own], rows)))
        if mix is not None:
            seen = (points, mix.vertices, mix.mix, table.bones, table.weights, packed_duals(matrices))
            loops.skin_dual(out, *map(read_only, seen))

    def with_weights(self, vertices: Ints, weights: Floats) -> Skinning:
        """The same with other weights (K, B) of some vertices (K,), over all bones; those of helpers have to be 0."""
        own = np.argsort(-weights, axis=1, kind="stable")[:, :MOST_INFLUENCES]
        values = np.take_along_axis(weights, own, axis=1).astype(np.float32)
        bones, table = self.influences.bones, self.influences.weights
        if own.shape[1] > bones.shape[1] and (values[:, bones.shape[1] :] > 0).any():
            more = ((0, 0), (0, MOST_INFLUENCES - bones.shape[1]))
            bones, table = np.pad(bones, more), np.pad(table, more)
        else:
            bones, table = bones.copy(), table.copy()
        width = min(own.shape[1], bones.shape[1])
        bones[vertices], table[vertices] = 0, 0
        bones[vertices, :width] = np.where(values[:, :width] > 0, own[:, :width], 0)
        table[vertices, :width] = values[:, :width]
        return replace(self, influences=Influences(bones, table))

    def carried_by(self, rows: Ints, matrices: Floats) -> Floats:
        """The blended matrices (K, 4, 4), float64, that vertices are sent through, from bone matrices (B, 4, 4)."""
        table, whole = self.influences, np.concatenate([matrices, np.eye(4)[None]])
        bones, weights = table.bones[rows], table.weights[rows].astype(float)
        linear = np.einsum("kb,kbij->kij", weights, whole[bones])
        return linear if self.dual_mix is None else with_duals(linear, dual_of(whole)[bones], weights, self.dual_mix.of(rows))


@derived("parts", "bones", "bindings")
def compile_skinning(character: Character, store: ArrayStore) -> Skinning:
    meshes = compile_meshes(character, store)
    return Skinning(_influences(character, store, meshes), _dual_mix(character, store, meshes))


def _influences(character: Character, store: ArrayStore, meshes: Meshes) -> Influences:
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


def _dual_mix(character: Character, store: ArrayStore, meshes: Meshes) -> DualMix | None:
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


def packed(matrices: Floats) -> Floats:
    """Matrices (B, 4, 4) as rows of 16 float32, column by column, with the identity behind them for what nothing carries."""
    rows = np.empty((len(matrices) + 1, 16), np.float32)
    rows[:-1], rows[-1] = matrices.transpose(0, 2, 1).reshape(-1, 16), UNMOVED
    return rows


def packed_duals(matrices: Floats) -> Floats:
    """Matrices (B, 4, 4) as dual quaternions (B + 1, 8), float32, with the identity behind them."""
    out = np.zeros((len(matrices) + 1, 8), np.float32)
    backend.current().duals_of(read_only(matrices), out[:-1])
    out[-1, 0] = 1
    return out
