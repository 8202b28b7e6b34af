"""A skin that runs into itself: the chin into the throat, the lips at their corners, the lining through the cheek."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from tightseam.contact.clash import Body, Depth, crossings, crossings_between, deepest_inside
from tightseam.contact.tree import TriangleTree
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Character, Seam
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import AnyArray, Bools, Floats, Ints
from tightseam.head.roots import UNSEEN
from tightseam.seams.design import designed_depth
from tightseam.seams.place import place
from tightseam.seams.posed import PosedHead
from tightseam.seams.probe import belong, probe_of
from tightseam.seams.reading import Place, Reading
from tightseam.seams.solid import NOTHING, judged


@dataclass(frozen=True)
class _Kind:
    """For triangles of a kind: those that count as what they lie in (T,), a tree of them, and across each edge the neighbour of the same
    kind (T, 3), -1 for none."""

    counts: Bools
    counted: TriangleTree
    beside: Ints


class SelfGauge:
    """Triangles of a skin that cross in a pose and do not in the neutral, of two sets on it; how deep either lies in the other.

    Lips on lips and lids are seams of their own, and the lining of a mouth may fold as it likes.
    """

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator, neutral: PosedHead) -> None:
        self._seam = seam
        self._skin = probe_of(seam.probe, None, character, store, evaluator)
        part, triangles = find_part(character, seam.probe), self._skin.triangles

        def among(name: str | None) -> Bools:
            return np.ones(len(triangles), bool) if name is None else belong(triangles, vertex_set(store, part, name))

        self._sides = [probe_of(seam.probe, name, character, store, evaluator) for name in (seam.probe_set, seam.solid_set)]
        own = [(s.probe_set, s.solid_set) for s in character.seams if s.measure == "patch" and s.probe == s.solid == seam.probe]
        own += [(UNSEEN, UNSEEN)] if UNSEEN in part.sets else []
        self._not_with = [(among(a), among(b)) for a, b in own]
        lids = [s.probe_set for s in character.seams if s.margin is not None and s.probe == seam.probe and s.region == "eyes"]
        self._lids = np.any([among(name) for name in lids], axis=0) if lids else np.zeros(len(triangles), bool)
        found = self._crossed(neutral)
        self._at_rest = np.unique(found[:, 0] * len(triangles) + found[:, 1])
        body, points = neutral.body(self._skin), neutral.points[seam.probe]
        self._designed = designed_depth(points, triangles, np.unique(found), body, neutral.tree(self._skin))
        sets = tuple(tuple(part.sets.get(name or "") for name in names) for names in (*own, lids))
        key = ("kinds", part.points, part.sizes, part.corners, sets)
        self._kinds, self._within = DERIVED.get(key, lambda: self._sorted(points))
        self.vertices = self.touching = {seam.probe: np.arange(len(points))}
        self.known: list[AnyArray] = [self._designed, self._at_rest, *(side.rows for side in self._sides), self._kinds]

    def read(self, posed: PosedHead) -> Reading:
        overlap, worst = self.overlap(posed)
        return judged(self._seam, overlap, None, None, worst)

    def overlap(self, posed: PosedHead, least: float = 0.0) -> tuple[float, Place]:
        """The deepest place of the skin in itself, in mm, and where; 0 where it is no deeper than `least` mm."""
        return self._deepest(posed, self._crossed(posed), least)

    def overlap_between(self, posed: PosedHead, sides: tuple[Bools, Bools], least: float = 0.0) -> tuple[float, Place]:
        """The same of what crosses of the whole skin and has, between two triangles, vertices of both sides (N,)."""
        return self._deepest(posed, self._mine(np.sort(crossings_between(posed.tree(self._skin), sides), axis=1)), least)

    def _deepest(self, posed: PosedHead, pairs: Ints, least: float) -> tuple[float, Place]:
        pairs = pairs[~np.isin(pairs[:, 0] * len(self._skin.triangles) + pairs[:, 1], self._at_rest)]
        points = posed.points[self._skin.part]
        vertex = int(self._sides[0].vertices[0])
        worst, deepest = place(self._skin.part, vertex, points[vertex]), 0.0
        for found in self._depths(posed, pairs, least / CM_TO_MM):
            if found.depth > max(deepest, NOTHING):
                deepest, worst = found.depth, self._skin.place_on(found.triangle, found.point, posed.points)
        return deepest * CM_TO_MM, worst

    def _crossed(self, posed: PosedHead) -> Ints:
        """The pairs (K, 2) of triangles that cross and are this seam's, the lower row first."""
        one, other = self._sides
        found = crossings(posed.tree(one), posed.tree(other), same=True)
        return self._mine(np.unique(np.sort(np.stack([one.rows[found[:, 0]], other.rows[found[:, 1]]], axis=1), axis=1), axis=0))

    def _mine(self, pairs: Ints) -> Ints:
        i, j = pairs.T
        mine = ~self._lids[i] & ~self._lids[j]
        for a, b in self._not_with:
            mine &= ~((a[i] & b[j]) | (a[j] & b[i]))
        return np.asarray(pairs[mine])

    def _sorted(self, points: Floats) -> tuple[Ints, dict[int, _Kind]]:
        """The kind of each triangle (T,), by the sets it is in that do not count with one another, and what there is to know of each."""
        triangles, beside = self._skin.triangles, self._skin.beside
        without = [(a, b) for pair in self._not_with for a, b in (pair, pair[::-1])]
        kinds = np.zeros(len(triangles), np.int64)
        for k, (a, _) in enumerate(without):
            kinds |= a.astype(np.int64) << k
        within = {}
        for kind in np.unique(kinds).tolist():
            counts = ~np.any([self._lids, *(b for k, (_, b) in enumerate(without) if kind >> k & 1)], axis=0)
            own = np.where((beside >= 0) & (kinds[beside] == kind), beside, -1)
            within[kind] = _Kind(counts, TriangleTree(points, triangles[counts]), own)
        return kinds, within

    def _depths(self, posed: PosedHead, pairs: Ints, least: float) -> Iterator[Depth]:
        """Depths of what crosses, kind by kind of what it may lie in."""
        if not len(pairs):
            return
        tree, start = posed.tree(self._skin), np.unique(pairs)
        for kind in np.unique(self._kinds[start]).tolist():
            within = self._within[kind]
            body = Body(posed.body(self._skin), tree, within.counts, within.counted.at(tree.points), own=True)
            yield deepest_inside(tree, body, start[self._kinds[start] == kind], within.beside, self._designed, least)
