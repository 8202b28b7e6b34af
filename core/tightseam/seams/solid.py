"""Surfaces that must stay out of one another: a part, or a set of vertices on it, and a closed part."""

from __future__ import annotations

from tightseam.contact.clash import Body, Depth, crossings, deepest_of, whole
from tightseam.contact.gap import nearest_pair
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, Seam
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import AnyArray
from tightseam.seams.posed import PosedHead
from tightseam.seams.probe import Probe, belong, by_part, probe_of
from tightseam.seams.reading import Place, Reading

REACH = 0.8  # cm within which surfaces are looked at
NOTHING = 1e-6  # cm


class SolidGauge:
    """Overlap and gap of a surface and a closed part, each looked at from the other: a spike is deep in what it pierces, while what it
    pierces is never deeper in the spike than that is thick.

    A set of vertices on a skin has the flesh behind it for a body: what the whole skin winds round and has the set for its nearest
    surface.

    A reading depends on where the `vertices` of each part are, and on what is `known` of the meshes; `touching` are those of the surfaces
    themselves, without what only has a say in what lies inside the flesh.
    """

    both_ways = True

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        assert seam.solid is not None
        self._seam = seam
        self._probe = probe_of(seam.probe, seam.probe_set, character, store, evaluator)
        self._solid = probe_of(seam.solid, seam.solid_set, character, store, evaluator)
        self._whole = probe_of(seam.probe, None, character, store, evaluator)
        self._counts = belong(self._whole.triangles, self._probe.vertices)
        own = self._probe.around if self.both_ways else self._probe.vertices
        self.vertices = by_part([(self._probe.part, own), (self._solid.part, self._solid.vertices)])
        self.touching = by_part([(self._probe.part, self._probe.vertices), (self._solid.part, self._solid.vertices)])
        self.known: list[AnyArray] = [self._probe.vertices, self._solid.vertices]

    def read(self, posed: PosedHead) -> Reading:
        overlap, worst = self.overlap(posed)
        gap = 0.0
        if worst is None:
            gap, worst = self.gap(posed)
        return judged(self._seam, overlap, gap, None, worst)

    def overlap(self, posed: PosedHead, least: float = 0.0) -> tuple[float, Place | None]:
        """Deepest overlap in mm, and where; 0 and None where the two are apart, or overlap by no more than `least` mm."""
        found, whose = self._deepest(posed, least / CM_TO_MM)
        return (found.depth * CM_TO_MM, whose.place_on(found.triangle, found.point, posed.points)) if found else (0.0, None)

    def gap(self, posed: PosedHead) -> tuple[float, Place]:
        """The distance of the two where they are apart, at most REACH, in mm, and where."""
        probe = self._probe
        gap, triangle, point = nearest_pair(posed.tree(probe), posed.tree(self._solid), REACH)
        if triangle < 0:  # farther apart than anybody asks
            triangle, point = 0, posed.points[probe.part][probe.triangles[0, 0]]
        return gap * CM_TO_MM, probe.place_on(triangle, point, posed.points)

    def _deepest(self, posed: PosedHead, least: float) -> tuple[Depth | None, Probe]:
        """The deepest point of either surface in the other, and whose it is; None where they are apart."""
        probe, solid = posed.tree(self._probe), posed.tree(self._solid)
        crossed = crossings(probe, solid)
        sides = [(deepest_of(probe, whole(solid), crossed[:, 0], self._probe.beside, self._probe.islands, least), self._probe)]
        if self.both_ways:
            body = Body(posed.body(self._whole), posed.tree(self._whole), self._counts, probe)
            sides.append((deepest_of(solid, body, crossed[:, 1], self._solid.beside, self._solid.islands, least), self._solid))
        found, whose = max(sides, key=lambda side: side[0].depth)
        return (found if found.depth > NOTHING else None), whose


def judged(seam: Seam, overlap: float, gap: float | None, gap_limit: float | None, worst: Place) -> Reading:
    """The reading of overlap and gap in mm, against the seam's limits."""
    excess = overlap / seam.limits.overlap if seam.limits.overlap else 0.0
    if gap is not None and gap_limit:
        excess = max(excess, gap / gap_limit)
    return Reading(seam.name, overlap=overlap, gap=gap, gap_limit=gap_limit, excess=excess, worst=worst)
