"""Where vertices of a part come to with other weights than they have."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from tightseam.deform.dual import dual_of, with_duals
from tightseam.deform.evaluator import Evaluator
from tightseam.geometry.types import Floats, Ints


class Reskinned:
    """A part in a pose, to be skinned anew by weights that are handed over: linear, mixed with dual quaternions where it is, its lips
    sealed, and with what shapes add after the bones. float64. `posed` (N, 3) is where its own weights bring it."""

    def __init__(self, evaluator: Evaluator, part: str, values: Mapping[str, float]) -> None:
        rows = evaluator.meshes.rows(part)
        stages, matrices = evaluator.stages(values), evaluator.matrices(values)
        self.posed: Floats = stages.skinned[rows].astype(np.float64)
        self._before = np.column_stack([stages.relieved[rows].astype(np.float64), np.ones(len(self.posed))])
        self._matrices, self._duals = matrices[:, :3].reshape(len(matrices), 12), dual_of(matrices)
        self._deforming = np.array([b.role == "deform" for b in evaluator.character.bones], bool)
        mix, every = evaluator.rig.skinning.dual_mix, np.arange(rows.start, rows.stop)
        self._mix: Floats = np.zeros(len(every)) if mix is None else mix.of(every)
        self._kept, self._sealed = evaluator.seal_of(rows, stages.relieved, matrices, values)
        self._after = evaluator.held_back(rows)
        self._values, self._first, self._evaluator = values, rows.start, evaluator

    def whole(self, vertices: Ints, weights: Floats) -> Floats:
        """The posed points (N, 3) of all parts with `weights` (K, B) of vertices (K,) of the part: what rides on it goes along."""
        rig = self._evaluator.rig
        skinning = rig.skinning.with_weights(self._first + vertices, weights * self._deforming)
        return self._evaluator.with_rig(replace(rig, skinning=skinning)).points(self._values)

    def at(self, vertices: Ints, weights: Floats) -> Floats:
        """The posed points (K, 3) of vertices (K,) with `weights` (K, B) over all bones."""
        carried = weights * self._deforming
        blend = (carried @ self._matrices).reshape(-1, 3, 4)
        dual = np.flatnonzero(self._mix[vertices] > 0)
        if len(dual):
            duals = np.broadcast_to(self._duals, (len(dual), *self._duals.shape))
            blend[dual] = with_duals(blend[dual], duals, carried[dual], self._mix[vertices[dual]])
        points = np.einsum("nij,nj->ni", blend, self._before[vertices])
        return np.asarray(self._kept[vertices, None] * points + self._sealed[vertices] + self._after[vertices])
