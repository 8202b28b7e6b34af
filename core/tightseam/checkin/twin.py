"""Is a second file of the same head in the same vertex order?"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.checkin.check import Check, Patch, place
from tightseam.document.arrays import ArrayStore
from tightseam.document.labels import part_label
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part
from tightseam.geometry.adjacency import edges
from tightseam.geometry.types import Floats, Ints

STRETCHED = 4.0  # times the usual ratio between the two files from where an edge counts as torn
MOST_TORN = 0.02  # of the edges; a pose or a sculpt tears none


def delivered_points(character: Character, store: ArrayStore) -> dict[str, Floats]:
    """Points of each part in the order of its file, by its name there; of a vertex that the file splits, each copy."""
    found = {}
    for part in character.parts:
        points = np.asarray(store.get(part.points))
        name = part.delivered.name if part.delivered else part.name
        found[name] = points if part.split is None else points[np.asarray(store.get(part.split))]
    return found


def twin_check(character: Character, store: ArrayStore, twin: Mapping[str, Floats]) -> Check:
    """Compare with the points (N, 3) of a second file, by the part names as delivered, in that file's order.

    Laid on our faces, points in the same order give edges about as long as ours. In another order, neighbours land anywhere
    on the head and most edges are far longer.
    """
    places: list[Patch] = []
    said: list[str] = []
    compared = 0
    for part in character.parts:
        other = twin.get(part.delivered.name if part.delivered else part.name)
        if other is None and len(twin) == len(character.parts) == 1:
            other = next(iter(twin.values()))
        if other is None:
            continue
        compared += 1
        wrong, words = _compared(part, store, other)
        if words:
            said.append(f"{part_label(part.name)}: {words}")
            places += place(part.name, wrong)
    if not compared:
        said.append("no part of that name in the other file")
    return Check(
        "vertex_order", "Vertex order against the other file", "mesh", "fault" if said else "fine",
        "; ".join(said) or f"{compared} parts agree",
        "Shapes, weights and corrections are stored by vertex number. A file in another order turns all of them to noise.",
        "Export both from the same mesh without reordering, welding or triangulating.", places=tuple(places),
    )  # fmt: skip


def _compared(part: Part, store: ArrayStore, other: Floats) -> tuple[Ints, str]:
    """Vertices at torn edges, and what to say; nothing where the order is the same."""
    delivered = part.delivered.vertex_count if part.delivered else part.vertex_count
    source = np.arange(part.vertex_count) if part.source is None else np.asarray(store.get(part.source))
    if len(other) != delivered and len(other) != part.vertex_count:
        return np.zeros(0, int), f"{len(other):,} vertices there, {delivered:,} here"
    known = source >= 0 if len(other) == delivered else np.ones(part.vertex_count, bool)
    theirs = other[np.maximum(source, 0)] if len(other) == delivered else other
    ours = np.asarray(store.get(part.points))
    ends = edges(polygons(store, part), part.vertex_count).ends
    ends = ends[known[ends].all(axis=1)]
    here = np.maximum(np.linalg.norm(ours[ends[:, 0]] - ours[ends[:, 1]], axis=1), 1e-9)
    ratio = np.linalg.norm(theirs[ends[:, 0]] - theirs[ends[:, 1]], axis=1) / here
    # the size of the whole, not of the edges, tells the scale between the two files: scrambling leaves it alone
    scale = np.linalg.norm(np.ptp(theirs[known], axis=0)) / max(float(np.linalg.norm(np.ptp(ours[known], axis=0))), 1e-9)
    torn = ratio > STRETCHED * max(float(scale), 1e-9)
    if torn.mean() <= MOST_TORN:
        return np.zeros(0, int), ""
    return np.unique(ends[torn]), f"another order, {torn.mean():.0%} of the edges would tear"
