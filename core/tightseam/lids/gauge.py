"""What one eye's lids measure in a pose: overlap with the eye, and the gaps at their margins."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.contact.clash import across_edges, crossings, deepest_of, islands_of, whole
from tightseam.contact.tree import PosedTree, TriangleTree
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.lids import CompiledLids
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import points as part_points
from tightseam.document.model import Character, Lids
from tightseam.geometry.samples import surface_samples
from tightseam.geometry.types import Floats, Ints
from tightseam.lids.eye_relief import clearance_of
from tightseam.lids.maps import margins_of
from tightseam.lids.tune import eye_relief_of
from tightseam.seams.lid import across
from tightseam.seams.starting_set import LID

LINING = 0.2  # cm off the eye that looks straight ahead
NEAR = 0.2  # cm within which margins are measured exactly


@dataclass(frozen=True)
class EyeReading:
    """In cm, with the skin before the bones move it: how far each sample (S,) of the lids stands off the eye, how far each vertex of both
    margins (M,) does, and between closed margins for each vertex of the upper one (U,) what is open and how far it passed the other.
    `deepest` is the overlap and the vertex next to it."""

    stands: Floats
    off: Floats
    slit: Floats
    passed: Floats
    deepest: tuple[float, int]


class EyeGauge:
    """Measures the lids of one eye. Depth is read along rays from the eye's centre, in a table of how far it reaches: that is fast enough
    to follow a hand, and shows a contact wherever the seams' exact distance does. `owner` (S,) is the vertex next to each sample."""

    def __init__(self, character: Character, pair: Lids, compiled: CompiledLids, store: ArrayStore, evaluator: Evaluator) -> None:
        self.pair, self.side, self.outward = pair, pair.side, compiled.outward
        self.rows, self._eye, self._arc = evaluator.meshes.rows(pair.skin), compiled.eye, compiled.turning.arc
        relief = eye_relief_of(character, pair)
        count = self.rows.stop - self.rows.start
        inside = np.zeros(count, bool)
        for key in (pair.vertices, *([relief.vertices] if relief else [])):
            inside[np.asarray(store.get(key))] = True
        rest = part_points(character, store, pair.skin)
        # a lid meets the eye with its lining first: its outside lies a lid's thickness farther off
        inside &= clearance_of(rest, self._eye.profile, self._eye.centre, np.eye(3)) < LINING
        triangles = evaluator.meshes.part_triangles[evaluator.meshes.names.index(pair.skin)]
        lids = triangles[inside[triangles].all(axis=1)]
        self._mix, owners = surface_samples(lids, count)
        self.owner: Ints = owners[:, 0]
        self.margins = margins_of(store, pair)
        self.margin: Ints = np.concatenate(self.margins)
        name = evaluator.meshes.names.index(pair.eye)
        self._ball = part_points(character, store, pair.eye)
        self._trees = TriangleTree(rest, lids), TriangleTree(self._ball, evaluator.meshes.part_triangles[name])
        self._beside = across_edges(lids)
        self._islands = islands_of(self._beside)
        self._home = 1.0 if self._across(rest)[1].sum() >= 0 else -1.0
        self.limits = next((s.limits for s in character.seams if s.name in pair.names), LID)

    def read(self, posed: Floats, turn: Floats, exact: bool = False) -> EyeReading:
        """For points (N, 3) of all parts and the rotation (3, 3) of the eye. `exact` are overlap and gap by the eye's mesh, as seams read
        them."""
        skin, samples = posed[self.rows], self.samples(posed)
        stands, off = (clearance_of(x, self._eye.profile, self._eye.centre, turn) for x in (samples, skin[self.margin]))
        k = int(stands.argmin())
        deepest = max(0.0, -float(stands[k])), int(self.owner[k])
        if exact:
            eye = self._trees[1].at((self._ball - self._eye.centre) @ turn.T + self._eye.centre)
            near = off < NEAR
            off[near] = eye.signed(skin[self.margin][near], NEAR)
            deepest = self._deepest(self._trees[0].at(skin), eye) or (0.0, deepest[1])
        apart, side = self._across(skin)
        return EyeReading(stands, off, np.where(side == self._home, apart, 0.0), self._passed(skin), deepest)

    def _deepest(self, lids: PosedTree, eye: PosedTree) -> tuple[float, int] | None:
        """The deepest overlap, cm, and the nearest corner of where it is; None where there is none."""
        found = deepest_of(lids, whole(eye), crossings(lids, eye)[:, 0], self._beside, self._islands)
        if found.triangle < 0:
            return None
        corners = lids.tree.triangles[found.triangle]
        return found.depth, int(corners[np.linalg.norm(lids.points[corners] - found.point, axis=1).argmin()])

    def samples(self, posed: Floats) -> Floats:
        """Vertices, edge middles and face centres (S, 3) of the lids."""
        return np.asarray(self._mix @ posed[self.rows])

    def opposite(self, skin: Floats) -> Ints:
        """For each vertex of the upper margin the places (U, 3) in the lower one, of the one across from it and of those beside that."""
        at, low_at = (self._arc.place(skin[m])[0] for m in self.margins)
        nearest = np.abs(at[:, None] - low_at[None]).argmin(axis=1)
        return np.clip(nearest[:, None] + [-1, 0, 1], 0, len(low_at) - 1)

    def _passed(self, skin: Floats) -> Floats:
        """How far (U,) the upper margin has gone beyond the lower one, about the eye."""
        upper = skin[self.margins[0]]
        (at, angle), (low_at, low) = self._arc.place(upper), self._arc.place(skin[self.margins[1]])
        beyond = np.interp(at, np.maximum.accumulate(low_at), low) - angle
        return np.asarray(np.maximum(beyond, 0) * np.linalg.norm(upper - self._eye.centre, axis=1))

    def _across(self, skin: Floats) -> tuple[Floats, Floats]:
        return across(skin[self.margins[0]], skin[self.margins[1]], self._eye.centre)
