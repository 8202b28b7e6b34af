"""Making parts of a document from plain arrays."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadDocument
from tightseam.document.limits import FARTHEST
from tightseam.document.model import Influence, Part, PartDelta, PartKind, Point, Side
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints


def make_point(p: Floats) -> Point:
    """A point of a document from an array (3,)."""
    return (float(p[0]), float(p[1]), float(p[2]))


def make_part(
    store: ArrayStore,
    name: str,
    kind: PartKind,
    points: Floats,
    polygons: Polygons,
    colours: Floats | None = None,
    face_colours: Floats | None = None,
    sets: Mapping[str, Sequence[int] | Ints] | None = None,
) -> Part:
    """A part whose side is read from the end of its name or from where it lies. `points` (N, 3) in cm."""
    return Part(
        name=name,
        kind=kind,
        side=_side(name, points),
        points=store.put(np.asarray(points, np.float64)),
        sizes=store.put(polygons.sizes.astype(np.int32)),
        corners=store.put(polygons.corners.astype(np.int32)),
        vertex_count=len(points),
        polygon_count=len(polygons),
        colours=None if colours is None else store.put(np.asarray(colours, np.float32)),
        face_colours=None if face_colours is None else store.put(np.asarray(face_colours, np.float32)),
        sets=put_sets(store, sets or {}),
    )


def put_sets(store: ArrayStore, sets: Mapping[str, Sequence[int] | Ints]) -> dict[str, str]:
    return {key: store.put(np.asarray(vertices, np.int32)) for key, vertices in sets.items()}


def _side(name: str, points: Floats) -> Side:
    if name.endswith("_L"):
        return "L"
    if name.endswith("_R"):
        return "R"
    low, high = points[:, 0].min(), points[:, 0].max()
    return "L" if low > 0 else "R" if high < 0 else "C"


def make_influences(store: ArrayStore, bones: Sequence[str], weights: Floats) -> tuple[Influence, ...]:
    """Influences from a dense matrix (N, bones); zeros are left out."""
    found = []
    for column, bone in enumerate(bones):
        rows = np.flatnonzero(weights[:, column] > 0)
        if len(rows):
            found.append(Influence(bone, store.put(rows.astype(np.int32)), store.put(weights[rows, column].astype(np.float32))))
    return tuple(found)


def dense_weights(store: ArrayStore, influences: Sequence[Influence], bones: Sequence[str], vertex_count: int) -> Floats:
    """The matrix (N, bones), float64, of which `influences` are the columns."""
    weights = np.zeros((vertex_count, len(bones)))
    column = {name: k for k, name in enumerate(bones)}
    for influence in influences:
        weights[np.asarray(store.get(influence.vertices)), column[influence.bone]] += np.asarray(store.get(influence.weights))
    return weights


def make_delta(store: ArrayStore, part: str, offsets: Floats, smallest: float = 1e-6) -> PartDelta | None:
    """A sparse delta from dense `offsets` (N, 3) in cm, rows below `smallest` left out; None where nothing moves."""
    farthest = float(np.abs(offsets).max(initial=0.0))
    if not farthest < FARTHEST:
        raise BadDocument(f"A shape moves {part} by {farthest:.3g} cm; that cannot be meant.")
    rows = np.flatnonzero(np.abs(offsets).max(axis=1) > smallest)
    if not len(rows):
        return None
    return PartDelta(part, store.put(rows.astype(np.int32)), store.put(offsets[rows].astype(np.float32)))
