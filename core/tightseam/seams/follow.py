"""Follow seams: how far a part stays behind what should carry it."""

from __future__ import annotations

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_joints
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import points as part_points
from tightseam.document.model import Character, Seam
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Floats
from tightseam.seams.place import place
from tightseam.seams.posed import PosedHead
from tightseam.seams.reading import Place, Reading
from tightseam.weights.chain import chain_weights


class FollowGauge:
    """Lag: the distance between where a part is and where its rightful carrier would have taken it. It depends on where the
    `touching` vertices are, and on how its `bones` stand."""

    def __init__(self, seam: Seam, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        self._seam = seam
        weights = expected_weights(seam, character, store)
        self.bones = np.flatnonzero(weights.any(axis=0))
        self.touching = {seam.probe: np.arange(len(weights))}
        self._weights = weights[:, self.bones]

    def read(self, posed: PosedHead) -> Reading:
        seam = self._seam
        lag, worst = self.lag(posed)
        return Reading(seam.name, lag=lag, excess=lag / seam.limits.lag if seam.limits.lag else 0.0, worst=worst)

    def lag(self, posed: PosedHead) -> tuple[float, Place]:
        """How far the part is behind, in mm, and where."""
        seam = self._seam
        expected = carried(posed.unskinned[seam.probe], self._weights, posed.matrices[self.bones])
        behind = np.linalg.norm(expected - posed.points[seam.probe], axis=1) * CM_TO_MM
        worst = int(behind.argmax())
        return float(behind[worst]), place(seam.probe, worst, posed.points[seam.probe][worst])


def expected_weights(seam: Seam, character: Character, store: ArrayStore) -> Floats:
    """Weights (N, B) over all bones by which the bones in `seam.expected` should carry the part: wholly, or along their chain."""
    bones = [find_bone(character, name) for name in seam.expected]
    points = part_points(character, store, seam.probe)
    weights = np.zeros((len(points), len(character.bones)))
    columns = [character.bones.index(b) for b in bones]
    if len(bones) == 1:
        weights[:, columns[0]] = 1.0
    else:
        weights[:, columns] = chain_weights(points, chain_joints(bones))
    return weights


def carried(points: Floats, weights: Floats, matrices: Floats) -> Floats:
    """Linear blend skinning of points (N, 3) with dense weights (N, B), in float64."""
    mixed = np.einsum("nb,bij->nij", weights, matrices)
    return np.asarray(np.einsum("nij,nj->ni", mixed[:, :3, :3], points) + mixed[:, :3, 3])
