"""Where points would have to be for linearly blended bones to bring them where they are."""

from __future__ import annotations

import numpy as np

from tightseam.deform.evaluator import SINGULAR
from tightseam.deform.skinning import Skinning
from tightseam.geometry.types import Floats, Ints


class BeforeBones:
    """The way back through one pose of the bones, for the vertices `rows` (K,): made once, gone often."""

    def __init__(self, skinning: Skinning, rows: Ints, matrices: Floats) -> None:
        carried = skinning.carried_by(rows, matrices)
        self.whole = np.abs(np.linalg.det(carried[:, :3, :3])) > SINGULAR  # what bones flatten has no way back
        self._back = np.linalg.inv(np.where(self.whole[:, None, None], carried[:, :3, :3], np.eye(3)))
        self._shift = carried[:, :3, 3]

    def of(self, posed: Floats, otherwise: Floats) -> Floats:
        """For `posed` (K, 3); where there is no way back they are `otherwise` (K, 3)."""
        found = np.einsum("kij,kj->ki", self._back, posed - self._shift)
        return np.where(self.whole[:, None], found, otherwise)
