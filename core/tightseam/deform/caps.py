"""How far expressions may add up, laid out for evaluation."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.deform.meshes import Meshes
from tightseam.deform.shape_runs import NOTHING, ShapeRuns
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Cap, Shape
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class AddedUp:
    """What single expressions do to some vertices: their `rows` (K,) among all parts, the `shapes` (S',) that move any of them, and the
    `offsets` (S', K, 3) at strength 1; correctives and muted shapes are not among them."""

    rows: Ints
    shapes: Ints
    offsets: Floats

    def moved(self, expressions: Floats) -> tuple[Floats, Floats] | None:
        """How all expressions together move the vertices, (K, 3) cm, and how far that one does that goes farthest by itself, (K,); None
        where fewer than two do anything there. `expressions` (S, E) is what each asks of each shape."""
        own = expressions[self.shapes]
        acting = (np.abs(own) > NOTHING).any(axis=0)
        if np.count_nonzero(acting) < 2:
            return None
        each = np.tensordot(own[:, acting].T, self.offsets, axes=1)
        return each.sum(axis=0), np.linalg.norm(each, axis=2).max(axis=0)


@dataclass(frozen=True)
class CompiledCap:
    """Which of the capped vertices one cap holds (K,), by how much (K,), from where on, and how much it lets through beyond, cm."""

    at: Ints
    region: Floats
    cm: float
    soft: float


@dataclass(frozen=True)
class CompiledCaps:
    """All caps, and what adds up at the vertices that any of them holds."""

    added: AddedUp
    each: tuple[CompiledCap, ...]

    @property
    def rows(self) -> Ints:
        return self.added.rows

    def held_back(self, expressions: Floats) -> Floats | None:
        """How far caps bring their vertices back, (K, 3) cm, from what each expression asks of each shape, (S, E); None where nothing adds
        up.

        Where expressions move a vertex by d_1, d_2, … the free way is b = max(cm, |d_1|, |d_2|, …), and of what their sum d has beyond,
        x = |d| - b, there is let through x s / (x + s), which begins with slope 1 and ends at s.
        """
        moved = self.added.moved(expressions)
        if moved is None:
            return None
        total, farthest = moved
        far = np.linalg.norm(total, axis=1)
        held = np.zeros(len(self.rows))
        for cap in self.each:
            beyond = np.maximum(far[cap.at] - np.maximum(farthest[cap.at], cap.cm), 0)
            through = beyond * cap.soft / np.maximum(beyond + cap.soft, NOTHING)
            held[cap.at] = np.maximum(held[cap.at], cap.region * (beyond - through))  # of several, the one that holds most
        return np.asarray((held / np.maximum(far, NOTHING))[:, None] * total)


def compile_caps(caps: Sequence[Cap], shapes: Sequence[Shape], runs: ShapeRuns, store: ArrayStore, meshes: Meshes) -> CompiledCaps | None:
    """None where nothing is capped."""
    held = [np.asarray(store.get(c.vertices)).astype(np.int64) + meshes.rows(c.part).start for c in caps]
    if not held:
        return None
    rows = np.unique(np.concatenate(held))
    each = tuple(
        CompiledCap(np.searchsorted(rows, own), np.asarray(store.get(c.region)).astype(float), c.cm, c.soft)
        for c, own in zip(caps, held, strict=True)
    )
    return CompiledCaps(added_up(shapes, runs, rows), each)


def added_up(shapes: Sequence[Shape], runs: ShapeRuns, rows: Ints) -> AddedUp:
    """Of vertices (K,) of all parts."""
    plain = [k for k, s in enumerate(shapes) if s.activation is None and not s.muted]
    offsets = {k: runs.offsets(k, rows) for k in plain}
    acting = [k for k in plain if offsets[k].any()]
    return AddedUp(rows, np.array(acting, int), np.array([offsets[k] for k in acting]).reshape(-1, len(rows), 3))
