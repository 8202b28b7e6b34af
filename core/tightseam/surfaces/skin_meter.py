"""The surface of a skin in a pose, against its neutral and against what the expressions in it do alone."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np
from scipy.sparse import csr_matrix, identity

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, Part
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.regions import lips
from tightseam.head.surface import surface_of
from tightseam.surfaces.cuts import Cuts
from tightseam.surfaces.hollow import Hollow
from tightseam.surfaces.limits import BEYOND, LIMITS, TOWARDS, SpotKind, Zone
from tightseam.surfaces.patches import patches_of
from tightseam.surfaces.places import Places
from tightseam.surfaces.spots import SkinState, Spot
from tightseam.surfaces.strain import Strain, StrainGauge
from tightseam.surfaces.zones import zones_of

ONE_PLACE = 1.2  # cm within which what is over a limit is one place
MM2 = CM_TO_MM**2


class SkinMeter:
    """Measures one skin, by where its vertices are while all is at `rest` (N, 3): what is wrong there already is no expression's doing.
    BadRequest where it has not the landmarks."""

    def __init__(self, character: Character, store: ArrayStore, part: Part, rest: Floats) -> None:
        surface = surface_of(character, store, part)
        self._mesh: SurfaceMesh = surface.mesh
        self._gauge = StrainGauge(surface.mesh)
        self._places = Places(part, store, surface)
        zones, mouth = zones_of(surface), lips(surface)
        corners = self._mesh.triangles
        self._face = zones.face
        lips_touched = zones.lips[corners].any(axis=1) & (zones.lips | zones.face)[corners].all(axis=1)
        self._of_zone: dict[Zone, Bools] = {"face": np.asarray(zones.face[corners].all(axis=1)), "lips": np.asarray(lips_touched)}
        self._hollows = {name: Hollow(surface.mesh, patch) for name, patch in patches_of(surface, ~mouth.inside).items()}
        self._cuts, self._skull = Cuts(surface.mesh), np.flatnonzero(zones.skull)
        self._around = csr_matrix(self._mesh.neighbours + identity(len(self._mesh)), dtype=np.float32)
        self._rest = rest
        self._before = [self.state(rest)] if self.at_rest() else []  # what every pose is held against, beside what it is made of

    def place_of(self, vertex: int) -> str:
        """What the place of a vertex is called."""
        return self._places.of(vertex)

    def state(self, posed: Floats) -> SkinState:
        """All of a posed skin (N, 3), as seen from the head."""
        found = self._gauge.read(posed)
        kept = (x.astype(np.float32) for x in (found.stretch, found.squeeze, found.crumple))  # of many states at once
        stretch, squeeze, crumple = kept
        opened, given = self._opened(posed), self._given(posed, self._skull)
        return SkinState(Strain(stretch, squeeze, found.turned, crumple), self._depths(posed, self._hollows), opened, given)

    def _opened(self, posed: Floats, rows: Ints | None = None) -> Floats:
        return CM_TO_MM * self._cuts.open(posed, rows)

    def _given(self, posed: Floats, vertices: Ints) -> Floats:
        """How far, in mm, vertices have gone from where the head would have them."""
        return np.asarray(CM_TO_MM * np.linalg.norm(posed[vertices] - self._mesh.points[vertices], axis=1))

    def size_at(self, kind: str, vertices: Sequence[int], posed: Floats) -> float:
        """How large a kind is on the triangles or at the vertices that have no others than these, on a posed skin (N, 3)."""
        if kind == "hollow":
            return max(float(d.max()) for n, d in self._depths(posed, self._hollows).items() if vertices[0] in self._hollows[n].vertices)
        among = np.zeros(len(self._mesh), bool)
        among[list(vertices)] = True
        if kind == "split":
            return float(self._opened(posed, np.flatnonzero(among[self._cuts.pairs].all(axis=1))).max(initial=0.0))
        if kind == "squash":
            return float(self._given(posed, np.asarray(vertices)).max(initial=0.0))
        rows = np.flatnonzero(among[self._mesh.triangles].all(axis=1))
        strain = self._gauge.read(posed, rows, np.asarray(vertices))
        if kind == "flip":
            return MM2 * float(self._gauge.areas[rows[strain.turned]].sum())
        sizes = {"stretch": strain.stretch, "squeeze": strain.squeeze, "crumple": strain.crumple}[kind]
        return float(sizes.max(initial=0.0))

    def spots(self, posed: Floats, alone: Sequence[SkinState], by: tuple[Bools, Bools] | None = None, share: float = 1.0) -> list[Spot]:
        """What is wrong with a posed skin (N, 3) beyond what it is in the states `alone`, from a `share` of the limits on.

        Where it is known which vertices (N,) one side of the mix moves and which the other (`by`), only what hangs on both is measured.
        """
        return self._spots(posed, alone, [*alone, *self._before], by, share)

    def at_rest(self, share: float = 1.0) -> list[Spot]:
        """What is wrong while all is at rest, from a `share` of the limits on."""
        return self._spots(self._rest, (), (), None, share)

    def _spots(
        self, posed: Floats, alone: Sequence[SkinState], held: Sequence[SkinState], by: tuple[Bools, Bools] | None, share: float
    ) -> list[Spot]:
        """What is beyond what it is in the states that it is `held` against, those `alone` first among them."""
        rows = vertices = None
        hollows, (a, b, c) = self._hollows, self._mesh.triangles.T
        if by is not None:
            rings = [(self._around @ side.astype(np.float32)) > 0 for side in by]
            vertices = np.flatnonzero(rings[0] & rings[1])
            one, other = (ring[a] | ring[b] | ring[c] for ring in rings)
            rows = np.flatnonzero(one & other)
            hollows = {n: h for n, h in self._hollows.items() if all(side[h.hangs_on].any() for side in by)}
        found = self._strained(posed, alone, held, rows, vertices, share)
        among = np.ones(len(self._mesh), bool) if by is None else rings[0] & rings[1]
        return [*found, *self._shifted(posed, held, among, share, len(alone)), *self._sunken(posed, alone, hollows, share)]

    def _strained(
        self, posed: Floats, alone: Sequence[SkinState], held: Sequence[SkinState], rows: Ints | None, vertices: Ints | None, share: float
    ) -> Iterator[Spot]:
        now = self._gauge.read(posed, rows, vertices)
        rows = np.arange(len(self._mesh.triangles)) if rows is None else rows
        vertices = np.arange(len(self._mesh)) if vertices is None else vertices
        for zone, belong in self._of_zone.items():
            own = np.flatnonzero(belong[rows])
            at = rows[own]
            if alone:  # what one expression stretches is its own affair
                before = [s.strain.stretch[at] for s in alone]
                yield from self._islands("stretch", zone, now.stretch[own], before, self._mesh.triangles[at], share)
            if alone and zone == "face":  # lips may be pressed as they like
                before = [s.strain.squeeze[at] for s in alone]
                yield from self._islands("squeeze", zone, now.squeeze[own], before, self._mesh.triangles[at], share)
            yield from self._flipped(zone, at[now.turned[own]], held, share, len(alone))
        own = np.flatnonzero(self._face[vertices])
        before = [s.strain.crumple[vertices[own]] for s in held]
        yield from self._islands("crumple", "face", now.crumple[own], before, vertices[own, None], share, len(alone))

    def _shifted(self, posed: Floats, held: Sequence[SkinState], among: Bools, share: float, told: int) -> Iterator[Spot]:
        """Cuts that open, and the skull where it gives, `among` some vertices (N,)."""
        rows = np.flatnonzero(among[self._cuts.pairs].any(axis=1))
        before = [s.opened[rows] for s in held]
        yield from self._islands("split", "face", self._opened(posed, rows), before, self._cuts.pairs[rows], share, told)
        own = np.flatnonzero(among[self._skull])
        at, before = self._skull[own], [s.given[own] for s in held]
        yield from self._islands("squash", "face", self._given(posed, at), before, at[:, None], share, told)

    def _flipped(self, zone: Zone, turned: Ints, held: Sequence[SkinState], share: float, told: int) -> Iterator[Spot]:
        """Areas that turn over in the mix and in none of the states that it is held against."""
        limit = LIMITS["flip", zone]
        fresh = turned[~np.any([s.strain.turned[turned] for s in held], axis=0)] if held else turned
        areas = MM2 * self._gauge.areas[fresh]
        middles = self._middles(self._mesh.triangles[fresh])
        while len(fresh):
            near = np.linalg.norm(middles - middles[areas.argmax()], axis=1) < ONE_PLACE
            area = float(areas[near].sum())
            if area > limit.at(share):
                vertices = np.unique(self._mesh.triangles[fresh[near]])
                vertex = int(self._mesh.triangles[fresh[areas.argmax()], 0])
                yield Spot("flip", self.place_of(vertex), area, limit, (0.0,) * told, vertex, tuple(vertices.tolist()))
            fresh, areas, middles = fresh[~near], areas[~near], middles[~near]

    def _islands(
        self, kind: SpotKind, zone: Zone, sizes: Floats, held: Sequence[Floats], corners: Ints, share: float, told: int | None = None
    ) -> Iterator[Spot]:
        """Of triangles, pairs of vertices or vertices, by their `corners` (K, 1 to 3), places that are over a share of the limit and of
        what they are `held` against, the worst first; the first so many of those are `told`. The skull is one place."""
        limit = LIMITS[kind, zone]
        reach = np.inf if kind == "squash" else ONE_PLACE
        over = np.flatnonzero(sizes > limit.at(share))
        for k, before in enumerate(held):
            beyond = share == 1 or k >= (len(held) if told is None else told)  # a third does nothing to what is there at rest
            over = over[sizes[over] > (BEYOND if beyond else TOWARDS) * before[over]]
        over = over[np.argsort(-sizes[over], kind="stable")]
        middles = self._middles(corners[over])
        while len(over):
            near = np.linalg.norm(middles - middles[0], axis=1) < reach
            worst, vertices = over[0], np.unique(corners[over[near]])
            vertex = int(corners[worst, 0])
            each = tuple(float(before[worst]) for before in held[:told])
            yield Spot(kind, self.place_of(vertex), float(sizes[worst]), limit, each, vertex, tuple(vertices.tolist()))
            over, middles = over[~near], middles[~near]

    def _middles(self, corners: Ints) -> Floats:
        return np.asarray(self._mesh.points[corners].mean(axis=1))

    def _sunken(self, posed: Floats, alone: Sequence[SkinState], hollows: Mapping[str, Hollow], share: float) -> Iterator[Spot]:
        """Regions that sink in deeper than all that sinks them alone, added up; one expression alone is for Jaw to judge."""
        limit = LIMITS["hollow", "face"]
        for name, hollow in hollows.items() if len(alone) > 1 else ():
            before = [np.maximum(s.hollows[name], 0) for s in alone]
            added = np.sum(before, axis=0)
            if (CM_TO_MM * hollow.most(posed) - added).max() <= limit.at(share):
                continue
            depths = CM_TO_MM * hollow.depths(posed)
            beyond = depths - added
            worst = int(beyond.argmax())
            if beyond[worst] > limit.at(share):
                vertices = self._hollows[name].vertices
                vertex, sunk = int(vertices[worst]), vertices[beyond > beyond[worst] / 4]
                shares = tuple(float(b[worst]) for b in before)
                yield Spot("hollow", self.place_of(vertex), float(depths[worst]), limit, shares, vertex, tuple(sunk.tolist()))

    @staticmethod
    def _depths(posed: Floats, hollows: Mapping[str, Hollow]) -> dict[str, Floats]:
        return {name: CM_TO_MM * hollow.depths(posed) for name, hollow in hollows.items()}
