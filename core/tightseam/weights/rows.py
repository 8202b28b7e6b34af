"""Weights of some vertices of a part, all bones side by side: taken out of a binding, and put back into it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.model import Binding, Influence
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Bools, Floats, Ints

MOST_INFLUENCES = 8  # bones that a vertex can be posed by
NO_VERTICES, NO_WEIGHTS = np.zeros(0, np.int32), np.zeros(0, np.float32)
MOST_RECEIVED = 4  # of them that receivers of a rig take


def rows_of(store: ArrayStore, influences: Sequence[Influence], bones: Sequence[str], vertices: Ints) -> Floats:
    """Weights (K, B), float64, of `vertices` (K,) sorted ascending, a column a bone."""
    rows = np.zeros((len(vertices), len(bones)))
    column = {name: k for k, name in enumerate(bones)}
    for influence in influences:
        own = np.asarray(store.get(influence.vertices))
        at = np.searchsorted(vertices, own)
        found = np.flatnonzero((at < len(vertices)) & (vertices[np.minimum(at, len(vertices) - 1)] == own)) if len(vertices) else at[:0]
        rows[at[found], column[influence.bone]] += np.asarray(store.get(influence.weights))[found]
    return rows


def with_rows(
    store: ArrayStore, binding: Binding, bones: Sequence[str], vertices: Ints, rows: Floats, was: Floats | None = None
) -> Binding:
    """The binding with other weights (K, B) on `vertices` (K,); all other vertices keep theirs to the bit. Where it is known what these
    vertices had, `was` (K, B), bones that neither had nor get any are not looked at.

    BadRequest where a vertex would have more influences than can be posed, or the part rides.
    """
    if binding.ride is not None:
        raise BadRequest(
            f"{part_label(binding.part)} rides on {part_label(binding.ride.on)} and has no weights. Make its weights at Binding first."
        )
    too_many = np.flatnonzero((rows > 0).sum(axis=1) > MOST_INFLUENCES)
    if len(too_many):
        raise BadRequest(f"Vertex {vertices[too_many[0]]} would have more than {MOST_INFLUENCES} influences. Take one away first.")
    before, made = {i.bone: i for i in binding.influences}, []
    looked = np.flatnonzero(np.any((rows > 0) | (was > 0), axis=0)) if was is not None else np.arange(len(bones))
    columns = dict(zip(looked.tolist(), np.ascontiguousarray(rows[:, looked].T), strict=True))
    chosen = np.zeros(int(vertices.max(initial=-1)) + 1, bool)
    chosen[vertices] = True
    for k, bone in enumerate(bones):
        own = before.get(bone)
        found = _with_column(store, bone, own, chosen, vertices, columns[k]) if k in columns else own
        if found is not None:
            made.append(found)
    return replace(binding, carrier="weighted", influences=tuple(made))


def _with_column(
    store: ArrayStore, bone: str, own: Influence | None, chosen: Bools, vertices: Ints, weights: Floats
) -> Influence | None:  # fmt: skip
    """A bone's influence with other weights (K,) on `vertices` (K,), which are those that are `chosen` (N,); None where it has none."""
    from tightseam.weights.merge import merge  # compiled loops are loaded when they are first needed

    old, kept = (NO_VERTICES, NO_WEIGHTS) if own is None else (np.asarray(store.get(x)) for x in (own.vertices, own.weights))
    index, values = np.empty(len(old) + len(vertices), np.int32), np.empty(len(old) + len(vertices), np.float32)
    taken = ((old, np.int32), (kept, np.float32), (chosen, np.bool_), (vertices, np.int64), (weights, np.float64))
    count = merge(index, values, *(read_only(array, kind) for array, kind in taken))
    if not count:
        return None
    index, values = index[:count], values[:count]
    same = own is not None and np.array_equal(index, old)  # then their array is not hashed and stored again
    if same and np.array_equal(values, kept):
        return own
    return Influence(bone, own.vertices if own is not None and same else store.put(index), store.put(values))
