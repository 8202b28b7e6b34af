"""Weights of some vertices of a part, all bones side by side: taken out of a binding, and put back into it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.model import Binding, Influence
from tightseam.geometry.types import Floats, Ints

MOST_INFLUENCES = 8  # bones that a vertex can be posed by
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
    before = {i.bone: i for i in binding.influences}
    made = []
    beyond = int(vertices.max(initial=-1)) + 1
    chosen = np.zeros(beyond + 1, bool)
    chosen[vertices] = True
    looked = np.any((rows > 0) | (was > 0) if was is not None else np.ones_like(rows, bool), axis=0)
    for bone, weights, look in zip(bones, rows.T, looked, strict=True):
        own = before.get(bone)
        if not look:
            made += [own] if own is not None else []
            continue
        given = np.flatnonzero(weights > 0)
        old = np.zeros(0, np.int32) if own is None else np.asarray(store.get(own.vertices))
        goes = chosen[np.minimum(old, beyond)]
        if own is not None and len(old) and not len(given) and not goes.any():
            made.append(own)
            continue
        kept = np.zeros(0, np.float32) if own is None else np.asarray(store.get(own.weights))[~goes]
        index = np.concatenate([old[~goes], vertices[given]])
        values = np.concatenate([kept, weights[given]])
        if len(index):
            order = np.argsort(index, kind="stable")
            made.append(Influence(bone, store.put(index[order].astype(np.int32)), store.put(values[order].astype(np.float32))))
    return replace(binding, carrier="weighted", influences=tuple(made))
