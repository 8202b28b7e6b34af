"""Making single bones: ends, axes, limits."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.document.errors import BadRequest
from tightseam.document.make import make_point
from tightseam.document.model import Bone, BoneRegion, BoneRole, Turn
from tightseam.geometry.normals import unit
from tightseam.geometry.types import Floats
from tightseam.head.landmark_catalogue import label_of
from tightseam.landmarks.bones.limits import moves_of, turns_of


class BoneMaker:
    """Collects bones, parents first. `marks` (name -> point (3,) cm); rows of `axes` (3, 3) are the head's left, up and forward."""

    def __init__(self, marks: Mapping[str, Floats], axes: Floats) -> None:
        self.marks = marks
        self.axes = axes
        self.bones: list[Bone] = []

    def mark(self, name: str, what: str) -> Floats:
        """Where a landmark lies; BadRequest names it where it is missing."""
        if name not in self.marks:
            raise BadRequest(f"{what} cannot be built: the landmark “{label_of(name)}” is not placed yet.")
        return np.asarray(self.marks[name], float)

    def add(
        self,
        name: str,
        label: str,
        parent: str | None,
        base: Floats,
        tip: Floats,
        region: BoneRegion,
        role: BoneRole = "deform",
        axes: Floats | None = None,
    ) -> str:
        self.bones.append(
            Bone(
                name,
                label,
                parent,
                make_point(base),
                make_point(tip),
                role=role,
                region=region,
                axes=turn_of(self.axes if axes is None else axes),
                turn=turns_of(region),
                move=moves_of(region),
            )
        )
        return name


def turn_of(axes: Floats) -> Turn:
    """Axes (3, 3) as a document holds them; those of the world to the bit where they are that."""
    exact = np.eye(3) if np.abs(axes - np.eye(3)).max() < 1e-6 else axes
    return tuple(float(x) for x in exact.ravel())  # type: ignore[return-value]


def axes_along(left: Floats, forward: Floats) -> Floats:
    """Rows x, y, z: x along `left`, z as near to `forward` as that allows."""
    x = unit(left)
    z = unit(forward - (forward @ x) * x)
    return np.stack([x, np.cross(z, x), z])
