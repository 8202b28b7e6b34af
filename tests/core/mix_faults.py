"""Faults planted in a head that no expression shows alone, and the cells that they have to be found in."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part as find_part
from tightseam.document.make import make_delta
from tightseam.document.model import Character, Control, CurveKey, Influence, Link, PartDelta, Relief
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.normals import vertex_normals
from tightseam.head.regions import lips
from tightseam.head.surface import surface_of
from tightseam.lids.tune import eye_relief_of, lids_of, with_eye_relief
from tightseam.surfaces.strain import StrainGauge
from tightseam.surfaces.zones import zones_of

from tests.head import Head


@dataclass(frozen=True)
class Planted:
    """A fault: what plants it, the ends that bring it about together, the kind that it is found as, where, and a link that causes it."""

    plant: Callable[[Planter], Character]
    ends: tuple[str, ...]
    kind: str
    about: str
    cause: str


class Planter:
    """Plants faults in a copy of a head, in its shapes, reliefs and controls."""

    def __init__(self, head: Head) -> None:
        self.character, self.store = head.character, MemoryStore(head.store)
        self._surface = surface_of(self.character, self.store, find_part(self.character, "skin"))
        self._points, self._mouth = self._surface.points, lips(self._surface)
        self.points = self._points
        self._normals = vertex_normals(self._points, self._surface.triangles)

    def _near(self, place: np.ndarray, reach: float) -> np.ndarray:
        return 1 - smoothstep(np.linalg.norm(self._points - place, axis=1) / reach)

    def _pressed(self, shape: str, offsets: np.ndarray) -> Character:
        """The character with a shape that moves the skin by so much more (N, 3)."""

        def more(delta: PartDelta) -> PartDelta:
            if delta.part != "skin":
                return delta
            whole = offsets.copy()
            whole[np.asarray(self.store.get(delta.vertices))] += np.asarray(self.store.get(delta.offsets))
            made = make_delta(self.store, "skin", whole)
            assert made is not None
            return made

        shapes = (replace(s, deltas=tuple(map(more, s.deltas))) if s.name == shape else s for s in self.character.shapes)
        return replace(self.character, shapes=tuple(shapes))

    def lid(self, side: str, thin: float, press: float, shape: str = "smile") -> Character:
        """A shape that presses a lower lid on the eye, where its relief has become too thin for a lid that is closed."""
        near = self._near(self._surface.mark(f"lid_lower_{side}"), 0.9)
        relief = eye_relief_of(self.character, lids_of(self.character, side))
        amount, own = np.asarray(self.store.get(relief.amount)), near[np.asarray(self.store.get(relief.vertices))] > 0.3
        thinner = self.store.put(np.where(own, thin * amount, amount).astype(np.float32))
        self.character = with_eye_relief(self.character, replace(relief, amount=thinner))
        inward = self._surface.mark(f"eye_centre_{side}") - self._points
        return self._pressed(shape, press * near[:, None] * inward / np.linalg.norm(inward, axis=1)[:, None])

    def lip(self, press: float) -> Character:
        """A smile that presses the upper lip back, so that teeth which move aside come into it."""
        near = self._near(self._surface.mark("lip_upper"), 1.6) * self._mouth.nearest_to(self._mouth.upper) * (self._mouth.distance < 0.9)
        return self._pressed("smile", -press * near[:, None] * [0, 0, 1.0])

    def swollen(self, shape: str, cm: float) -> Character:
        """A shape that swells a place on the left cheek."""
        near = self._near(self._surface.mark("cheek_L") + [0.0, -1.2, 0.3], 1.5)
        return self._pressed(shape, cm * near[:, None] * self._normals)

    def lining(self, cm: float) -> Character:
        """A pucker that drives the lining of the mouth forward above the upper lip, on the left."""
        near = self._near(self._surface.mark("nose_wing_L"), 2.0) * self._mouth.inside
        return self._pressed("pucker", cm * near[:, None] * [0, 0, 1.0])

    def rough(self, amount: float) -> Character:
        """Smile and pucker that are each a little rough at one place."""
        place = self._surface.mark("cheek_L") + [0.0, -1.2, 0.3]
        return self.roughened(self._surface.nearest_vertex(place), amount, ("smile", "pucker"))

    def rough_between_brows(self, amount: float) -> Character:
        """Three shapes that are each a little rough between the brows."""
        place = self._surface.mark("brow_inner_L") * [0, 1, 1]
        return self.roughened(self._surface.nearest_vertex(place), amount, ("smile", "pucker", "brows_up"))

    def somewhere(self, rng: np.random.Generator, shapes: Sequence[str]) -> int:
        """A vertex of the face, away from lids, lips and the border, where these shapes are smooth."""
        front, low = self._surface.mark("ear_top_L")[2], self._surface.mark("chin_under")[1]
        calm = zones_of(self._surface).face & (self._points[:, 2] > front) & (self._points[:, 1] > low) & (self._mouth.distance > 2.0)
        for side in "LR":
            calm &= np.linalg.norm(self._points - self._surface.mark(f"eye_centre_{side}"), axis=1) > 2.2
        gauge = StrainGauge(self._surface.mesh)
        for name in shapes:
            calm &= gauge.read(self._points + self._offsets(name)).crumple < 0.15
        return int(rng.choice(np.flatnonzero(calm)))

    def mark(self, name: str) -> np.ndarray:
        """A landmark, (3,) cm."""
        return self._surface.mark(name)

    def _offsets(self, shape: str) -> np.ndarray:
        """What a shape does to the skin, (N, 3)."""
        whole = np.zeros_like(self._points)
        for delta in next(s.deltas for s in self.character.shapes if s.name == shape):
            if delta.part == "skin":
                whole[np.asarray(self.store.get(delta.vertices))] = np.asarray(self.store.get(delta.offsets))
        return whole

    def dent(self, side: str, cm: float) -> tuple[np.ndarray, Relief]:
        """A relief that lets a cheek sink in, and where."""
        middle, rows, region = self._cheek(side)
        return self._points[middle], Relief("dent", "Dent", "skin", self.store.put(rows), self.store.put(region), -cm)

    def _cheek(self, side: str) -> tuple[int, np.ndarray, np.ndarray]:
        """The vertex in the middle of a cheek, and a region (K,) of the vertices round it."""
        out = self._normals[:, 0] * (1 if side == "L" else -1) > 0.2
        place = self._surface.mark(f"cheek_{side}") - [0, 1.8, 0.0]
        middle = int(np.where(out, np.linalg.norm(self._points - place, axis=1), np.inf).argmin())
        near = self._near(self._points[middle], 1.6) * out * ~self._mouth.inside
        rows = np.flatnonzero(near > 0).astype(np.int32)
        return middle, rows, near[rows].astype(np.float32)

    def roughened(self, middle: int, amount: float, shapes: Sequence[str]) -> Character:
        """Shapes that are each rough round a vertex: up and down from one to the next."""
        near, ring = self._near(self._points[middle], 0.9), self._surface.neighbours.tocsr()
        way, front = {middle: 1.0}, [middle]
        for v in front:  # grows as it goes
            for w in ring.indices[ring.indptr[v] : ring.indptr[v + 1]].tolist():
                if w not in way:
                    way[w] = -way[v]
                    front.append(w)
        signs = np.zeros(len(self._points))
        signs[list(way)] = list(way.values())
        inside = np.flatnonzero(near > 0.3)
        edge = np.median(
            [
                np.linalg.norm(self._points[ring.indices[ring.indptr[v] : ring.indptr[v + 1]]] - self._points[v], axis=1).mean()
                for v in inside
            ]
        )
        offsets = (amount * edge / 2 * near * signs)[:, None] * self._normals
        for shape in shapes:
            self.character = self._pressed(shape, offsets)
        return self.character

    def sunken(self, cm: float) -> Character:
        """A hidden control that jaw open and pucker drive half each, and that does something only beyond that: a corrective with the wrong
        drivers."""
        _, rows, region = self._cheek("R")
        relief = Relief("sunken", "Sunken cheek", "skin", self.store.put(rows), self.store.put(region), -cm)
        late = (CurveKey(0, 0), CurveKey(0.6, 0), CurveKey(1, 1))
        hidden = Control("suck_in", "Suck in", 0, 1, 0, (Link("relief", "sunken", 1, curve=late),))
        drive = Link("control", "suck_in", 0.5)
        controls = (replace(c, links=(*c.links, drive)) if c.name in ("jaw_open", "pucker") else c for c in self.character.controls)
        return replace(self.character, reliefs=(*self.character.reliefs, relief), controls=(*controls, hidden))

    def bones_first(self, part: str) -> Character:
        """A part whose shapes come after its bones: they do not turn with the head."""
        bindings = (replace(b, bones_first=True) if b.part == part else b for b in self.character.bindings)
        return replace(self.character, bindings=tuple(bindings))


def uncarried(character: Character, store: MemoryStore, part: str) -> Character:
    """The character with a part whose weights are all nothing: it collapses."""

    def nothing(influence: Influence) -> Influence:
        return replace(influence, weights=store.put(np.zeros_like(np.asarray(store.get(influence.weights)))))

    bindings = (replace(b, influences=tuple(map(nothing, b.influences))) if b.part == part else b for b in character.bindings)
    return replace(character, bindings=tuple(bindings))


PAIRS = {
    ("hob", "lid"): Planted(lambda p: p.lid("L", 0.75, 0.13), ("blink_L", "smile"), "clash", "lid_lower_L", "smile"),
    ("hob", "lip"): Planted(lambda p: p.lip(0.15), ("jaw_side+", "smile"), "clash", "lips_teeth_upper", "smile"),
    ("hob", "rough"): Planted(lambda p: p.rough(0.9), ("smile", "pucker"), "crumple", "skin", "smile"),
    ("hob", "sunken"): Planted(lambda p: p.sunken(0.6), ("jaw_open", "pucker"), "hollow", "skin", "sunken"),
    ("hob", "whiskers"): Planted(lambda p: p.bones_first("whiskers"), ("pucker", "head_turn+"), "drift", "ride_whiskers", "head"),
    ("maren", "lining"): Planted(lambda p: p.lining(1.65), ("jaw_open", "pucker"), "self", "skin_itself", "pucker"),
}
TRIPLES = {
    "lid": Planted(lambda p: p.lid("R", 0.93, 0.3), ("gaze_height-", "blink_R", "smile"), "clash", "lid_lower_R", "smile"),
    "rough": Planted(lambda p: p.rough_between_brows(0.5), ("smile", "pucker", "brows_up"), "crumple", "skin", "brows_up"),
}  # in Hob
