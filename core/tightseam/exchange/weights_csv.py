"""Weights as CSV: a line for each vertex and bone."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.spatial import cKDTree

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points as part_points
from tightseam.document.model import Character
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Floats, Ints
from tightseam.weights.rows import rows_of

HEADER = ["vertex", "x", "y", "z", "bone", "weight"]
MOST_LINES = 3_000_000
NEAR = 0.01  # cm that a line's place may be from the vertex it is for
Match = Literal["order", "position"]


@dataclass(frozen=True)
class CsvWeights:
    """Weights (K, C) of the `bones` on some `vertices` (K,) of a part, sorted."""

    vertices: Ints
    bones: tuple[str, ...]
    weights: Floats


def write_weights_csv(character: Character, store: ArrayStore, part: str) -> bytes:
    """The weights of a part: vertex number from 0, its place in the neutral in cm, bone, weight. Zeros are left out."""
    found = find_part(character, part)
    bound = find_binding(character, part)
    names = [b.name for b in character.bones]
    rows = rows_of(store, bound.influences if bound else (), names, np.arange(found.vertex_count))
    places = part_points(character, store, part)
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(HEADER)
    for v, k in zip(*np.nonzero(rows), strict=True):
        table.writerow([v, *(f"{x:.6f}" for x in places[v]), names[k], f"{rows[v, k]:.9g}"])
    return out.getvalue().encode()


def read_weights_csv(data: bytes, character: Character, store: ArrayStore, part: str, match: Match) -> CsvWeights:
    """A table for a part from CSV with columns vertex, bone, weight and, to match by position, x, y, z (cm).

    BadRequest names the line that is wrong, a bone that is not there, or how many lines lie on no vertex.
    """
    found = find_part(character, part)
    lines = _lines(data, match)
    known = {b.name: b.name for b in character.bones} | {b.export: b.name for b in character.bones if b.export}
    strange = sorted({bone for _, _, bone, _ in lines} - known.keys())
    if strange:
        more = f" and {len(strange) - 3} more" if len(strange) > 3 else ""
        raise BadRequest(f"There is no bone called {', '.join(f'“{s}”' for s in strange[:3])}{more} here. Nothing was changed.")
    if match == "order":
        numbers = np.array([vertex for vertex, _, _, _ in lines])
        wrong = np.flatnonzero((numbers < 0) | (numbers >= found.vertex_count))
        if len(wrong):
            said = f"{part_label(part)} has vertices 0 to {found.vertex_count - 1}"
            raise BadRequest(f"Line {wrong[0] + 2}: {said}; {numbers[wrong[0]]} is not one of them. Match by position instead?")
    else:
        numbers = _by_place(np.array([place for _, place, _, _ in lines], float), part_points(character, store, part), part)
    bones = tuple(dict.fromkeys(known[bone] for _, _, bone, _ in lines))
    vertices, row = np.unique(numbers, return_inverse=True)
    weights = np.zeros((len(vertices), len(bones)))
    column = {name: k for k, name in enumerate(bones)}
    np.add.at(weights, (row, np.array([column[known[bone]] for _, _, bone, _ in lines])), [w for _, _, _, w in lines])
    return CsvWeights(vertices, bones, weights)


def _by_place(places: Floats, points: Floats, part: str) -> Ints:
    distance, nearest = cKDTree(points).query(places)
    off = np.flatnonzero(distance > NEAR)
    if len(off):
        raise BadRequest(
            f"{len(off)} of {len(places)} lines lie on no vertex of {part_label(part)}; the first is line {off[0] + 2}, "
            f"{distance[off[0]] * CM_TO_MM:.2f} mm away. Nothing was changed."
        )
    return np.asarray(nearest)


def _lines(data: bytes, match: Match) -> list[tuple[int, list[float], str, float]]:
    """Vertex, place, bone and weight of each line."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BadRequest("This is no text: weights come as CSV in UTF-8.") from None
    reader = csv.DictReader(io.StringIO(text), skipinitialspace=True)
    wanted = ["bone", "weight", *(["vertex"] if match == "order" else ["x", "y", "z"])]
    missing = [name for name in wanted if name not in (reader.fieldnames or [])]
    if missing:
        raise BadRequest(f"The table needs the columns {', '.join(wanted)}; missing: {', '.join(missing)}.")
    lines = []
    for number, line in enumerate(reader, start=2):
        if number > MOST_LINES:
            raise BadRequest(f"The table has more than {MOST_LINES:,} lines.")
        try:
            place = [float(line[k]) for k in "xyz"] if match == "position" else []
            entry = int(line["vertex"]) if match == "order" else 0, place, str(line["bone"]).strip(), float(line["weight"])
        except (TypeError, ValueError):
            raise BadRequest(f"Line {number} is not right: {', '.join(str(v) for v in line.values())[:80]}. Nothing was changed.") from None
        if not (0 <= entry[3] <= 1 and np.isfinite(place).all()):
            raise BadRequest(f"Line {number}: a weight is 0 to 1 and a place is finite; it says {line['weight']}. Nothing was changed.")
        lines.append(entry)
    if not lines:
        raise BadRequest("The table has no lines.")
    return lines
