"""The strip of poses for formats that play bones and shapes alone: what these leave out, one offset a vertex and pose."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.bake.lid_targets import LidTarget
from tightseam.deform.evaluator import Evaluator, unskinned
from tightseam.deform.skinned_alike import all_linear
from tightseam.deform.skinning import compile_skinning
from tightseam.document.arrays import ArrayStore
from tightseam.document.frames import local_frames, rest_frames
from tightseam.document.model import Character, Pose
from tightseam.document.poses import pose_values
from tightseam.geometry.types import Floats

BESIDE_SHAPES = "beside shapes, "  # then the name of the pose
STILL = 1e-5  # cm
TOLD = 2e-3  # cm: less is not worth a word


@dataclass(frozen=True)
class LeftOut:
    """What bones and shapes by themselves leave out of a `pose`: the `part` that is off most, and by how many `cm`."""

    pose: Pose
    part: str
    cm: float


class BakedStrip:
    """A character's strip, of which `baked` is what a format holds: the `values` of each pose, and in `beside` (N, 3) by how much more
    than its shapes and the targets of its `lids` the points of all parts have to move for its bones, which blend linearly, to bring them
    where they are: eye relief, lids on their arc, seals, caps, dual quaternions, what rides and what is posed by bones first. Unless it is
    made up for, `makes_up`, by targets of the poses' own, they are off by that."""

    def __init__(
        self,
        character: Character,
        baked: Evaluator,
        store: ArrayStore,
        lids: list[LidTarget] | None = None,
        values: list[dict[str, float]] | None = None,
        makes_up: bool = True,
    ) -> None:
        self.character, self.poses, self.makes_up = character, character.poses, makes_up
        self.values = [pose_values(baked.character, p) for p in self.poses] if values is None else values
        self.baked, self.lids, self.store = baked, lids or [], store
        self._true, self._linear = Evaluator(character, store), compile_skinning(all_linear(baked.character), store)
        self._true_values = [pose_values(character, p) for p in self.poses]
        self._closings = [self._closed(v) for v in self._true_values]

    @cached_property
    def beside(self) -> list[Floats]:
        return [self._left_out(k) for k in range(len(self.poses))]

    def target(self, pose: int, part: str) -> tuple[str, Floats] | None:
        """Name and offsets (N, 3) of the target that a part needs in a pose; None where shapes and bones say all."""
        if not self.makes_up:
            return None
        offsets = self.beside[pose][self.baked.meshes.rows(part)].astype(float)
        return (BESIDE_SHAPES + self.poses[pose].name, offsets) if np.abs(offsets).max(initial=0) > STILL else None

    def weights(self, pose: int) -> dict[str, float]:
        """How far each target is in, by name; of those beside shapes the pose's own."""
        rig = self.baked.rig
        strengths = dict(zip(rig.shapes.names, rig.strengths(self.values[pose]).tolist(), strict=True))
        return strengths | self._closings[pose] | {BESIDE_SHAPES + self.poses[pose].name: 1.0}

    def frames(self, pose: int) -> Floats:
        """Frames (B, 4, 4) of the bones, each in that of its parent."""
        skeleton = self.baked.skeleton
        return local_frames(skeleton.matrices(self.values[pose]) @ rest_frames(self.baked.character.bones), skeleton.parents)

    def left_out(self) -> list[LeftOut]:
        """The poses that are off without the targets of their own, the farthest first."""
        found = []
        for pose, beside in zip(self.poses, self.beside, strict=True):
            off = np.linalg.norm(beside, axis=1)
            part = max(self.baked.meshes.names, key=lambda name: float(off[self.baked.meshes.rows(name)].max()))
            found.append(LeftOut(pose, part, float(off.max())))
        return sorted((x for x in found if x.cm > TOLD), key=lambda x: -x.cm)

    def _closed(self, values: dict[str, float]) -> dict[str, float]:
        """How far each lid that targets close is closed; a target goes from 0 to 1."""
        if not self.lids:
            return {}
        names = [name for pair in self._true.character.lids for name in pair.names]
        closing = dict(zip(names, np.clip(self._true.lid_motion(values)[0], 0, 1).tolist(), strict=True))
        return {target.name: closing[target.name] for target in self.lids}

    def _left_out(self, pose: int) -> Floats:
        shaped, matrices = self.baked.shaped(self.values[pose]), self.baked.matrices(self.values[pose])
        carried = self._linear.carried_by(np.arange(len(shaped)), matrices)
        found = unskinned(carried, self._true.points(self._true_values[pose]).astype(float), shaped) - shaped
        for target in self.lids:
            rows = self.baked.meshes.rows(target.part).start + target.vertices
            found[rows] -= target.at(self._closings[pose][target.name])
        return found
