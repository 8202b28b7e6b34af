"""Selections of vertices made larger, smaller, along loops and rings, to the other side."""

from __future__ import annotations

from typing import Literal

import numpy as np

from tightseam.document.errors import BadRequest
from tightseam.geometry.adjacency import islands, neighbours
from tightseam.geometry.loops import LoopWalker
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Bools, Ints

Growth = Literal["grow", "shrink", "loop", "ring", "island", "whole", "invert"]


def grown(polygons: Polygons, vertices: Ints, count: int, how: Growth) -> Ints:
    """Vertex numbers (K,), sorted, of a selection changed on a mesh of `count` vertices.

    A loop goes on straight through the edges between picked vertices, a ring across them. BadRequest where there is no edge to go by.
    """
    chosen = np.zeros(count, bool)
    chosen[vertices] = True
    if how == "whole":
        return np.arange(count)
    if how == "invert":
        return np.flatnonzero(~chosen)
    if how == "island":
        label = islands(polygons, count)
        return np.flatnonzero(np.isin(label, np.unique(label[vertices])))
    if how in ("loop", "ring"):
        return _along(polygons, chosen, how == "ring")
    beside = neighbours(polygons, count)
    if how == "grow":
        return np.flatnonzero(chosen | (beside @ chosen.astype(float) > 0))
    return np.flatnonzero(chosen & ~(beside @ (~chosen).astype(float) > 0))


def _along(polygons: Polygons, chosen: Bools, ring: bool) -> Ints:
    walker = LoopWalker(polygons)
    picked = np.flatnonzero(chosen).tolist()
    pairs = [(a, b) for a in picked for b in walker.neighbours(a) if a < b and chosen[b]]
    if not pairs:
        raise BadRequest("A loop or a ring needs an edge to start from: pick two vertices beside each other.")
    found: set[int] = set(picked)
    for a, b in pairs:
        if ring:
            found |= _across(polygons, a, b)
        else:
            found |= set(walker.walk(a, b)) | set(walker.walk(b, a))
    return np.array(sorted(found), int)


def _across(polygons: Polygons, a: int, b: int) -> set[int]:
    """Both ends of all edges that lie side by side with an edge, over quads, both ways."""
    faces: dict[tuple[int, int], list[list[int]]] = {}
    for face in polygons.lists():
        for k in range(len(face)):
            edge = (face[k], face[(k + 1) % len(face)])
            faces.setdefault((min(edge), max(edge)), []).append(face)
    found = {a, b}
    waiting = [(min(a, b), max(a, b))]
    seen = set(waiting)
    while waiting:
        edge = waiting.pop()
        for face in faces.get(edge, []):
            if len(face) == 4:
                opposite = sorted(v for v in face if v not in edge)
                key = (opposite[0], opposite[1])
                if key not in seen:
                    seen.add(key)
                    waiting.append(key)
                    found |= set(key)
    return found
