"""Shapes laid out for evaluation: offsets as runs of consecutive vertices."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.deform import backend
from tightseam.deform.meshes import Meshes
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Shape
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints

NOTHING = 1e-9  # a strength that does nothing


@dataclass(frozen=True)
class ShapeRuns:
    """Offsets of all shapes as runs of consecutive vertices; the arguments of the blend kernel."""

    names: tuple[str, ...]
    run_of_shape: Ints
    run_start: Ints
    run_length: Ints
    run_values: Ints
    values: Floats

    def add(self, out: Floats, base: Floats, strengths: Floats) -> None:
        """out (N, 3) = base (N, 3) and what all shapes add by their `strengths` (S,); `out` itself may be the base."""
        active = np.flatnonzero(np.abs(strengths) > NOTHING)
        seen = (base, self.run_of_shape, self.run_start, self.run_length, self.run_values, self.values, active)
        backend.current().blend(out, *map(read_only, seen), read_only(strengths[active], np.float32))

    def offsets(self, shape: int, rows: Ints) -> Floats:
        """What one shape does to vertices (K,), (K, 3) cm, at strength 1."""
        found = np.zeros((len(rows), 3))
        for r in range(self.run_of_shape[shape], self.run_of_shape[shape + 1]):
            inside = np.flatnonzero((rows >= self.run_start[r]) & (rows < self.run_start[r] + self.run_length[r]))
            at = self.run_values[r] + 3 * (rows[inside] - self.run_start[r])
            found[inside] = self.values[at[:, None] + np.arange(3)]
        return found


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
