"""Weight where a bone does not belong: strays and jumps."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from tightseam.binding.face import APART, face_bones
from tightseam.binding.finding import count_said, of_vertices
from tightseam.binding.first_weights import OWN_PARTS
from tightseam.document.arrays import ArrayStore
from tightseam.document.labels import vertices_said
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part
from tightseam.document.part_mesh import part_mesh
from tightseam.findings.finding import Finding
from tightseam.geometry.geodesic import distance_from, surface_graph
from tightseam.geometry.types import Bools, Floats, Ints

OFF = 1e-3  # a total may be from 1
HOME = 0.02  # weight from where a bone counts as being somewhere
NOTABLE = 0.05  # weight from where a stray matters
BEYOND = 1.0  # cm along the surface that a bone may reach farther than first weights take it
ROUGH = 0.42  # of its weight that a vertex may differ from the mean of its neighbours; corners of a mouth come to 0.37
ROUGH_FACE = 0.6  # the same for the small bones of the face, which hand over within few vertices


class Strays:
    """Where the weights `rows` (N, B) of a part stray. `reference` (N, B) are those the skin would be given automatically, where it can."""

    def __init__(self, character: Character, store: ArrayStore, part: Part, rows: Floats, label: str, reference: Floats | None) -> None:
        self.bones, self.part, self.rows, self.label = character.bones, part, rows, label
        self.reference = reference
        self._faces = polygons(store, part)
        self._points = np.asarray(store.get(part.points))
        self._lids = np.zeros(part.vertex_count, bool)
        for name in (n for n in part.sets if n.startswith("lid_")):
            self._lids[np.asarray(store.get(part.sets[name]))] = True
        self._beside = part_mesh(store, part).neighbours
        self._told = np.zeros(part.vertex_count, bool)
        # what the bones of the face carry of a head or a jaw still hangs together with the rest of it
        self._members = [[k, *face_bones(character.bones, b.name)] for k, b in enumerate(character.bones)]

    def findings(self) -> Iterator[Finding]:
        """Too far from where first weights take a bone; in patches away from its home; single vertices that jump."""
        if self.reference is not None:
            yield from self._too_far(self.reference)
        yield from self._apart()
        yield from self._jumps()

    def _too_far(self, reference: Floats) -> Iterator[Finding]:
        graph = surface_graph(self._points, self._faces)
        for k, bone in enumerate(self.bones):
            weight, usual = self._through(self.rows, k), self._through(reference, k)
            own, home = weight > NOTABLE, np.flatnonzero(usual > HOME)
            if not own.any() or not len(home):
                continue
            distance = distance_from(graph, home, BEYOND)[0]
            far = own & (distance > BEYOND)
            if bone.region not in (*APART, "lids"):
                far |= own & self._lids & (usual < HOME)
            more = np.flatnonzero(far | (own & (weight > usual + NOTABLE)))
            _, patch = connected_components(self._beside[more][:, more], directed=False)
            for number in np.unique(patch[far[more]]):
                stray = more[patch == number]
                self._told[stray] = True
                yield self._stray(k, stray, weight, "beyond its reach", "binding.weigh", how="heat")

    def _apart(self) -> Iterator[Finding]:
        island = connected_components(self._beside, directed=False)[1]
        for k, bone in enumerate(self.bones):
            homeless = self.part.kind == "skin" and bone.region in OWN_PARTS
            for stray in _away_from_home(self._beside, island, self._through(self.rows, k) > HOME, self.rows[:, k], homeless):
                if self.rows[stray, k].max() >= NOTABLE and not self._told[stray].all():
                    self._told[stray] = True
                    yield self._stray(k, stray, self.rows[:, k], "away from where it belongs", "weights.mend")

    def _jumps(self) -> Iterator[Finding]:
        sound = ~self._told & (np.abs(self.rows.sum(axis=1) - 1) <= OFF)  # what is told already makes no neighbour jump
        trunk = np.stack([self._through(self.rows, k) for k in range(len(self.bones))], axis=1)
        trunk[:, [m for members in self._members for m in members[1:]]] = 0
        jumps = np.flatnonzero(_jumping(self._beside, self.rows, sound, ROUGH_FACE) | _jumping(self._beside, trunk, sound, ROUGH))
        if len(jumps):
            guilty = self.bones[int(self.rows[jumps].sum(axis=0).argmax())]
            said = f"{count_said(jumps)} weights that jump against all neighbours, most of them {guilty.label}."
            yield of_vertices("jump", self.part, guilty.name, f"Weights jump on {self.label}", said, jumps, "weights.mend")

    def _stray(self, k: int, vertices: Ints, weight: Floats, where: str, edit: str, **more: object) -> Finding:
        bone = self.bones[k]
        said = f"{bone.label} has weight on {vertices_said(len(vertices))} of {self.label} {where}, up to {weight[vertices].max():.0%}."
        return of_vertices("stray", self.part, bone.name, f"{bone.label} strays", said, vertices, edit, **more)

    def _through(self, rows: Floats, k: int) -> Floats:
        return np.asarray(rows[:, self._members[k]].sum(axis=1))


def _jumping(beside: csr_matrix, rows: Floats, sound: Bools, rough: float) -> Bools:
    """Which `sound` vertices (N,) differ by more than `rough` from the mean of their neighbours, at least half of which are sound."""
    around = beside @ sound.astype(float)
    mean = (beside @ (rows * sound[:, None])) / np.maximum(around, 1)[:, None]
    all_around = np.asarray(beside.sum(axis=1)).ravel()
    return np.asarray((np.abs(rows - mean).sum(axis=1) / 2 > rough) & sound & (2 * around >= all_around) & (all_around > 0))


def _away_from_home(beside: csr_matrix, island: Ints, reached: Bools, weights: Floats, homeless: bool) -> Iterator[Ints]:
    """Where a bone has weight in the patches of `reached` (N,) that are not the largest, by weight, on their island; in all of them
    where a bone has no home here."""
    own = np.flatnonzero(reached)
    if not len(own):
        return
    _, patch = connected_components(beside[own][:, own], directed=False)
    mass = np.bincount(patch, weights[own])
    where = np.zeros(len(mass), int)
    where[patch] = island[own]
    homes = set() if homeless else {int(np.flatnonzero(where == n)[mass[where == n].argmax()]) for n in np.unique(where)}
    for number in range(len(mass)):
        stray = own[(patch == number) & (weights[own] > HOME)]
        if number not in homes and len(stray):
            yield stray
