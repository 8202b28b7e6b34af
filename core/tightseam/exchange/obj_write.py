"""A character's meshes as Wavefront OBJ, in the order and the unit in which they were delivered."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part
from tightseam.exchange.placing import Placing
from tightseam.geometry.types import Floats, Ints

DIGITS = 9  # significant ones; gives back what a file with up to nine said


def write_obj(
    character: Character,
    store: ArrayStore,
    parts: Sequence[Part] | None = None,
    points: dict[str, Floats] | None = None,
    placing: Placing | None = None,
) -> bytes:
    """An object a part, polygons as they are. `points` (N, 3) in cm by part stand in for the neutral.

    Vertices stand in the order of the delivered file: parts that came from one list of vertices share that list again. New
    vertices follow behind. Without a `placing` lengths are in the unit of the delivered file, else in cm.
    """
    chosen = list(parts or character.parts)
    placing = placing or Placing(character.checkin.unit_cm or 1.0)
    rows, numbers = _vertex_list(chosen, store)
    table = np.concatenate([points[p.name] if points and p.name in points else np.asarray(store.get(p.points)) for p in chosen])
    out = [f"# {character.about.name}, written by Tight Seam"]
    out += [f"v {x:.{DIGITS}g} {y:.{DIGITS}g} {z:.{DIGITS}g}" for x, y, z in placing.places(table[rows].astype(float)).tolist()]
    for part, number in zip(chosen, numbers, strict=True):
        out.append(f"o {part.name}")
        names = [str(n) for n in (number + 1).tolist()]
        out += ["f " + " ".join([names[v] for v in polygon]) for polygon in polygons(store, part).lists()]
    return ("\n".join(out) + "\n").encode()


def _vertex_list(parts: list[Part], store: ArrayStore) -> tuple[Ints, list[Ints]]:
    """Which rows of all parts' points to write, in order, and for each part the place of its vertices in that list."""
    starts = np.concatenate([[0], np.cumsum([p.vertex_count for p in parts])])
    lists = [_place(p) for p in parts]
    keys = np.empty((int(starts[-1]), 3), np.int64)
    for k, part in enumerate(parts):
        source = np.arange(part.vertex_count) if part.source is None else np.asarray(store.get(part.source), np.int64)
        new = source < 0
        shared = lists.index(lists[k])
        rows = slice(starts[k], starts[k + 1])
        keys[rows, 0] = shared
        keys[rows, 1] = np.where(new, k + 1, 0)  # new vertices behind all delivered ones, each with its own part
        keys[rows, 2] = np.where(new, np.arange(part.vertex_count), source)
    _, first, place = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    place = place.reshape(-1)
    return first, [place[starts[k] : starts[k + 1]] for k in range(len(parts))]


def _place(part: Part) -> tuple[str, str, int]:
    """Parts with the same place came from one list of vertices."""
    if part.delivered is None or part.source is None:
        return ("", part.name, 0)
    return (part.delivered.file, "", part.delivered.vertex_count)
