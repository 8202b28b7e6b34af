"""How a file counts lengths and which of its axes is up."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from tightseam.geometry.types import Bools, Floats

Up = Literal["y", "z"]
Z_IS_UP = np.array([[1.0, 0, 0], [0, 0, -1.0], [0, 1.0, 0]])  # a face that looked along +Z looks along -Y


@dataclass(frozen=True)
class Placing:
    """So many cm to the unit of a file, `unit_cm`, and its axis that points `up`."""

    unit_cm: float = 1.0
    up: Up = "y"

    @property
    def _turn(self) -> Floats:
        return np.eye(3) if self.up == "y" else Z_IS_UP

    def places(self, points: Floats) -> Floats:
        """Points or offsets (..., 3) in cm, Y up, as the file has them."""
        return points if self == AS_HERE else points @ self._turn.T / self.unit_cm

    def frames(self, frames: Floats) -> Floats:
        """Frames (..., 4, 4) in the world, column vectors, as the file has them: turned, with axes as long as they were."""
        placed = frames.copy()
        placed[..., :3, :] = self._turn @ frames[..., :3, :]
        placed[..., :3, 3] /= self.unit_cm
        return placed

    def local_frames(self, frames: Floats, roots: Bools) -> Floats:
        """Frames (B, 4, 4) in those of their parents, as the file has them: only `roots` (B,) stand in the world."""
        placed = frames.copy()
        placed[:, :3, 3] /= self.unit_cm
        placed[roots] = self.frames(frames[roots])
        return placed


AS_HERE = Placing()
