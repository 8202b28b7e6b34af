"""Do the arrays of a character fit it? Run on everything that comes from outside."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadDocument
from tightseam.document.fields import Array, Beside, PerVertex, Refers, Roots, Vertices
from tightseam.document.limits import FARTHEST, MOST_VERTICES
from tightseam.document.model import Character, Lids, Part, Shape
from tightseam.document.walk import Field, fields_of
from tightseam.geometry.types import Ints


def check_arrays(character: Character, store: ArrayStore) -> None:
    """BadDocument where an array is missing, of the wrong form, not finite, or refers to vertices that are not there."""
    counts = {p.name: _check_part(p, store) for p in character.parts}
    _check_fields(fields_of(character, Array), store, counts)
    for pair in character.lids:
        _check_lids(pair, store)
    for mouth in character.lips:
        _check_corners("lines of the lips", store, mouth.upper, mouth.lower)


def check_shape_arrays(shapes: Iterable[Shape], store: ArrayStore, counts: Mapping[str, int]) -> None:
    """BadDocument where what a shape does fits no part; `counts` are vertices by part."""
    for field in (f for shape in shapes for f in fields_of(shape)):
        if field.mark(Refers) is not None and field.value not in counts:
            raise BadDocument(f"The {field.said} speaks of a part “{field.value}” that is not there.")
        _check_fields([field], store, counts)


def _check_fields(fields: Iterable[Field], store: ArrayStore, counts: Mapping[str, int]) -> None:
    """Whatever is marked to speak of vertices."""
    for field in fields:
        for mark in field.marks:
            if isinstance(mark, Vertices):
                found = _indices(store, field.value, counts[field.beside(mark.of)], field.said)
                if not mark.ordered and len(np.unique(found)) != len(found):
                    raise BadDocument(f"{field.said.capitalize()}: a vertex is listed twice.")
            elif isinstance(mark, Beside):
                _check_values(store, field, len(np.asarray(store.get(field.beside(mark.rows)))), mark)
            elif isinstance(mark, PerVertex) and not isinstance(field.records[-1], Part):  # a part's own are checked with its mesh
                _check_values(store, field, counts[field.beside(mark.of)], mark)
            elif isinstance(mark, Roots) and mark.of:
                roots = _indices(store, field.value, counts[field.beside(mark.on)], field.said)
                part = field.beside(mark.of)
                if len(roots) != counts[part]:
                    raise BadDocument(f"{field.said.capitalize()}: {len(roots)} roots do not fit the {counts[part]} vertices of {part}.")


def _check_values(store: ArrayStore, field: Field, count: int, mark: Beside | PerVertex) -> None:
    rows, said = np.asarray(store.get(field.value)), field.said.capitalize()
    wanted = (count,) if mark.width == 1 else (count, mark.width)
    if rows.shape != wanted or (rows.dtype.kind != "f" and not mark.whole):
        raise BadDocument(f"{said}: {count} vertices do not fit values of form {rows.shape}.")
    if not np.isfinite(rows).all() or (len(rows) and np.abs(rows).max() > FARTHEST):
        raise BadDocument(f"{said}: a value is not finite or far too large.")
    if mark.low is not None and mark.high is not None and len(rows) and not (rows.min() >= mark.low and rows.max() <= mark.high):
        raise BadDocument(f"{said}: a value lies outside {mark.low:g} to {mark.high:g}.")


def _check_lids(pair: Lids, store: ArrayStore) -> None:
    moving, where = np.asarray(store.get(pair.vertices)), f"lids {pair.side}"
    lines = _check_corners(f"margins of the {where}", store, pair.upper_margin, pair.lower_margin)
    if not np.isin(np.concatenate(lines), moving).all():
        raise BadDocument(f"The margins of the {where} hold vertices that do not move with them.")
    for name, roots in pair.lashes:
        if not np.isin(np.asarray(store.get(roots)), moving).all():
            raise BadDocument(f"The roots of {name} do not fit the {where}.")


def _check_corners(where: str, store: ArrayStore, *keys: str) -> tuple[Ints, Ints]:
    """Two lines that begin and end in the same vertices."""
    upper, lower = (np.asarray(store.get(key)) for key in keys)
    if min(len(upper), len(lower)) < 3 or any(upper[k] != lower[k] for k in (0, -1)):
        raise BadDocument(f"The {where} do not share both corners.")
    return upper, lower


def _check_part(part: Part, store: ArrayStore) -> int:
    points = np.asarray(store.get(part.points))
    if points.ndim != 2 or points.shape[1] != 3 or points.dtype.kind != "f" or not len(points):
        raise BadDocument(f"{part.name} has no points.")
    if len(points) > MOST_VERTICES:
        raise BadDocument(f"{part.name} has {len(points)} vertices; {MOST_VERTICES} are the most.")
    if not np.isfinite(points).all():
        bad = int(np.flatnonzero(~np.isfinite(points).all(axis=1))[0])
        raise BadDocument(f"Vertex {bad} of {part.name} is not at a finite place.")
    if np.abs(points).max() > FARTHEST:
        bad = int(np.abs(points).max(axis=1).argmax())
        raise BadDocument(f"Vertex {bad} of {part.name} lies {np.abs(points).max():.3g} cm out; check the units of the file.")
    sizes = np.asarray(store.get(part.sizes))
    if sizes.ndim != 1 or not len(sizes) or sizes.dtype.kind not in "iu" or sizes.min() < 3:
        raise BadDocument(f"{part.name} has no polygons of three or more corners.")
    corners = _indices(store, part.corners, len(points), f"polygons of {part.name}")
    if int(sizes.sum()) != len(corners):
        raise BadDocument(f"The polygons of {part.name} do not add up to their corners.")
    if len(points) != part.vertex_count or len(sizes) != part.polygon_count:
        raise BadDocument(f"{part.name} does not have as many vertices and polygons as it says.")
    if part.source is not None:
        source = np.asarray(store.get(part.source))
        most = part.delivered.vertex_count if part.delivered else MOST_VERTICES
        if source.shape != (len(points),) or source.dtype.kind not in "iu" or source.min() < -1 or source.max() >= most:
            raise BadDocument(f"The source map of {part.name} does not fit its mesh.")
    if part.split is not None:
        split = _indices(store, part.split, len(points), f"split map of {part.name}")
        if part.delivered is None or len(split) != part.delivered.vertex_count:
            raise BadDocument(f"The split map of {part.name} does not fit the file it came from.")
    for colours, rows in ((part.colours, len(points)), (part.face_colours, len(sizes))):
        if colours is not None and np.asarray(store.get(colours)).shape != (rows, 3):
            raise BadDocument(f"The colours of {part.name} do not fit its mesh.")
    return len(points)


def _indices(store: ArrayStore, key: str, count: int, where: str) -> Ints:
    found = np.asarray(store.get(key))
    if found.ndim != 1 or found.dtype.kind not in "iu":
        raise BadDocument(f"The vertex numbers in {where} are not whole numbers in a row.")
    if len(found) and (found.min() < 0 or found.max() >= count):
        raise BadDocument(f"{where.capitalize()}: vertex {int(found.max())} is out of range, there are {count}.")
    return found
