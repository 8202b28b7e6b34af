"""Surfaces as seams look at them: samples of a part or of a vertex set on it, and the trees of solids."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.spatial import cKDTree

from tightseam.contact.caps import Closed, closed
from tightseam.contact.clash import across_edges, islands_of
from tightseam.contact.tree import TriangleTree
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Character
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.seams.place import place
from tightseam.seams.reading import Place

AROUND = 3.0  # cm: a pose that moves only what is farther off does not change what lies in what


@dataclass(frozen=True)
class Probe:
    """A part, or a vertex set on it, as seams look at it.

    The part's `neutral` points (N, 3); its own `triangles` (T, 3), which are the `rows` (T,) of all its part's; the `vertices` (K,) all of
    it hangs on; its `tree`; the triangle `beside` it across each edge (T, 3); one triangle of each of its `islands` (I,); and the vertices
    `around` it (L,) that have a say in what is inside the flesh there.
    """

    part: str
    neutral: Floats
    triangles: Ints
    rows: Ints
    vertices: Ints
    tree: TriangleTree
    beside: Ints
    islands: Ints
    around: Ints

    @cached_property
    def closed(self) -> Closed:
        """The same with its holes closed."""
        return closed(self.neutral, self.triangles)

    def place_on(self, triangle: int, at: Floats, points: Mapping[str, Floats]) -> Place:
        """A place on a triangle: its nearest corner, and where that is in a pose."""
        corners = self.triangles[triangle]
        nearest = np.linalg.norm(points[self.part][corners] - at, axis=1).argmin()
        return place(self.part, int(corners[nearest]), at)


def probe_of(part: str, set_name: str | None, character: Character, store: ArrayStore, evaluator: Evaluator) -> Probe:
    """The probe of a part, or of a set of its vertices; made once for as long as its mesh stays."""
    found = find_part(character, part)
    mesh = found.points, found.sizes, found.corners

    def made() -> Probe:
        k = evaluator.meshes.names.index(part)
        triangles = evaluator.meshes.part_triangles[k]
        chosen = np.ones(len(triangles), bool)
        if set_name is not None:
            vertices = vertex_set(store, found, set_name)
            chosen = belong(triangles, vertices)
            if not chosen.any():  # a coarse mesh may have no triangle within a narrow patch
                chosen = np.asarray(np.isin(triangles, vertices).any(axis=1))
        return of_rows(part, np.asarray(store.get(found.points), np.float64), triangles, np.flatnonzero(chosen))

    key = ("probe", part, *mesh, set_name and found.sets.get(set_name))
    probe: Probe = DERIVED.get(key, made)
    return probe


def of_rows(part: str, neutral: Floats, triangles: Ints, rows: Ints) -> Probe:
    """The probe of some `rows` (T,) of all triangles of a part."""
    own = triangles[rows]
    beside, used = across_edges(own), np.unique(own)
    around = np.flatnonzero(cKDTree(neutral[used]).query(neutral, distance_upper_bound=AROUND)[0] < AROUND)
    return Probe(part, neutral, own, rows, used, TriangleTree(neutral, own), beside, islands_of(beside), around)


def belong(triangles: Ints, vertices: Ints) -> Bools:
    """Which triangles (T,) have all their corners among some vertices."""
    among = np.zeros(max(int(triangles.max(initial=-1)), int(vertices.max(initial=-1))) + 1, np.bool_)
    among[vertices] = True
    return np.asarray(among[triangles].all(axis=1))


def by_part(groups: Iterable[tuple[str, Ints]]) -> dict[str, Ints]:
    """The vertices of each part, every one once, of several groups."""
    found: dict[str, list[Ints]] = {}
    for part, vertices in groups:
        found.setdefault(part, []).append(vertices)
    return {part: np.unique(np.concatenate(own)) for part, own in found.items()}
