"""What lies clear of a skin, and must not go under it: hair on the scalp."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from tightseam.contact.clash import Body, crossings, deepest_of, on_open_islands
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character, Seam
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.normals import face_normals
from tightseam.geometry.types import AnyArray, Ints
from tightseam.head.roots import ON
from tightseam.seams.place import place
from tightseam.seams.posed import PosedHead
from tightseam.seams.probe import Probe, of_rows, probe_of
from tightseam.seams.reading import Place, Reading
from tightseam.seams.solid import NOTHING, judged

BESIDE = 1.5  # cm: skin that lies farther from a part in the neutral does not come through it
BOX = 2.0  # cm: of what lies clear, this much is one place


class ClearGauge:
    """How deep those triangles of a part go under a skin that lie clear of it in the neutral: there it comes through.

    What crosses the skin there, lies under it, or stands on it with a corner, are roots: they are under it by design. Of a closed tuft
    the side that lies on the skin does not count, nobody sees it.
    """

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        assert seam.solid is not None
        self._seam = seam
        part, skin = find_part(character, seam.probe), find_part(character, seam.solid)
        self._skin = probe_of(skin.name, None, character, store, evaluator)
        self._every = probe_of(part.name, None, character, store, evaluator)
        self._counts = np.ones(len(self._skin.triangles), bool)
        key = ("clear", *((p.name, p.points, p.sizes, p.corners) for p in (part, skin)))
        self._clear: Probe | None = DERIVED.get(key, self._found)
        self.vertices = self.touching = (
            {} if self._clear is None else {part.name: self._clear.vertices, skin.name: self._beside(self._clear)}
        )
        self.places = [] if self._clear is None else self._apart(self._clear)
        self.known: list[AnyArray] = [] if self._clear is None else [self._clear.rows]

    def read(self, posed: PosedHead) -> Reading:
        overlap, worst = self.overlap(posed)
        return Reading(self._seam.name) if worst is None else judged(self._seam, overlap, None, None, worst)

    def overlap(self, posed: PosedHead, least: float = 0.0) -> tuple[float, Place | None]:
        """How deep the part goes under the skin, in mm, and where; 0 where it is no more than `least` mm, nowhere where nothing of it lies
        clear."""
        clear, own = self._clear, posed.points[self._seam.probe]
        if clear is None:
            return 0.0, None
        hair, skin = posed.tree(clear), posed.tree(self._skin)
        body = Body(posed.body(self._skin), skin, self._counts, skin)
        found = deepest_of(hair, body, crossings(hair, skin)[:, 0], clear.beside, clear.islands, least / CM_TO_MM)
        under = found.depth > NOTHING
        vertex = int(clear.vertices[0])
        worst = clear.place_on(found.triangle, found.point, posed.points) if under else place(clear.part, vertex, own[vertex])
        return (found.depth * CM_TO_MM if under else 0.0), worst

    def _beside(self, clear: Probe) -> Ints:
        """The vertices of the skin that may come through."""
        return np.flatnonzero(cKDTree(clear.neutral[clear.vertices]).query(self._skin.neutral, distance_upper_bound=BESIDE)[0] < BESIDE)

    def _apart(self, clear: Probe) -> list[dict[str, Ints]]:
        """The touching vertices in places that have nothing to do with one another: what lies in a box, with all that may come through
        there."""
        part, skin = self._seam.probe, self._skin.part
        boxes = np.floor(clear.neutral[clear.vertices] / BOX).astype(int)
        found = []
        for box in np.unique(boxes, axis=0):
            own = clear.vertices[(boxes == box).all(axis=1)]
            low, high = clear.neutral[own].min(axis=0) - BESIDE, clear.neutral[own].max(axis=0) + BESIDE
            beside = self.touching[skin]
            near = ((self._skin.neutral[beside] > low) & (self._skin.neutral[beside] < high)).all(axis=1)
            found.append({part: own, skin: beside[near]})
        return found

    def _found(self) -> Probe | None:
        """What lies clear of the skin in the neutral; None where nothing does."""
        hair, skin = self._every, self._skin
        at = skin.tree.at(skin.neutral)
        low = (at.closest(hair.neutral)[0] <= ON) | skin.closed.at(skin.neutral).inside(hair.neutral)
        clear = np.asarray(~low[hair.triangles].any(axis=1))
        clear[crossings(hair.tree.at(hair.neutral), at)[:, 0]] = False
        middles = hair.neutral[hair.triangles].mean(axis=1)
        outer = (face_normals(hair.neutral, hair.triangles) * (middles - at.closest(middles)[2])).sum(axis=1) > 0
        clear &= outer | on_open_islands(hair.beside)
        return of_rows(hair.part, hair.neutral, hair.triangles, np.flatnonzero(clear)) if clear.any() else None
