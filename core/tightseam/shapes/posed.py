"""What bones do, as shapes: baked in, and taken out."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.deform.evaluator import Evaluator, unskinned
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import points
from tightseam.geometry.types import Floats, Ints
from tightseam.shapes.offsets import Offsets

SAME = 1e-5  # cm that is rounding


class BonePose:
    """The bones in a pose, and the matrices (N, 4, 4), float64, that they send each vertex through; parts that ride are left to what they
    ride on."""

    def __init__(self, evaluator: Evaluator, store: ArrayStore, values: Mapping[str, float]) -> None:
        character = evaluator.character
        self._meshes, self._rides = evaluator.meshes, {b.part for b in character.bindings if b.ride is not None}
        self._bones_first = {b.part for b in character.bindings if b.bones_first}
        self._rest = np.concatenate([points(character, store, name) for name in self._meshes.names])
        every: Ints = np.arange(len(self._rest))
        self._matrices = evaluator.rig.skinning.carried_by(every, evaluator.matrices(values))

    def baked(self) -> Offsets:
        """What the bones do to the neutral, as offsets: added to it without the bones they give the pose."""
        moved = _carried(self._matrices, self._rest) - self._rest
        found = {n: moved[self._meshes.rows(n)] for n in self._meshes.names if n not in self._rides}
        return {n: x for n, x in found.items() if np.abs(x).max(initial=0) > 0}

    def taken_out(self, offsets: Mapping[str, Floats]) -> tuple[Offsets, dict[str, Floats]]:
        """δ' = A⁻¹ (p + δ) − p: offsets with which the bones in this pose give what `offsets` alone gave; δ' = p + δ − A p where shapes
        come after the bones. And by part how far (N,) in cm each vertex then still is from that: nothing, but where the bones flatten
        what they carry. Parts that are not in `offsets` are left to the bones; what rides goes with what carries it, and keeps its own."""
        found: Offsets = {}
        left: dict[str, Floats] = {}
        for part in self._meshes.names:
            if part not in offsets:
                continue
            if part in self._rides:
                found[part] = offsets[part]
                continue
            rows = self._meshes.rows(part)
            rest, matrices = self._rest[rows], self._matrices[rows]
            wanted = rest + offsets[part]
            if part in self._bones_first:
                found[part] = wanted - _carried(matrices, rest)
                continue
            before = unskinned(matrices, wanted, rest)
            found[part] = before - rest
            left[part] = np.linalg.norm(_carried(matrices, before) - wanted, axis=1)
        return {n: x for n, x in found.items() if np.abs(x).max(initial=0) > 0}, left


def before_bones(evaluator: Evaluator, values: Mapping[str, float]) -> Offsets:
    """All that a pose does to the neutral before the bones: shapes, reliefs, lids, eye relief and lips, as offsets."""
    meshes = evaluator.meshes
    moved = evaluator.stages(values).sealed.astype(np.float64) - meshes.rest
    found = {n: moved[meshes.rows(n)] for n in meshes.names}
    return {n: x for n, x in found.items() if np.abs(x).max(initial=0) > SAME}


def _carried(matrices: Floats, at: Floats) -> Floats:
    return np.asarray(np.einsum("nij,nj->ni", matrices[:, :3, :3], at) + matrices[:, :3, 3])
