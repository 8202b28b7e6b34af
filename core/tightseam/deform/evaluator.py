"""Control values in, posed points out."""

from __future__ import annotations

from collections.abc import Mapping
from copy import copy
from dataclasses import dataclass

import numpy as np

from tightseam.deform import backend
from tightseam.deform.compare import in_head
from tightseam.deform.lips import Mouth
from tightseam.deform.meshes import Meshes
from tightseam.deform.ride import ridden
from tightseam.deform.rig import CompiledRig, PosedEyes, compile_rig
from tightseam.deform.skeleton import Skeleton, Values
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints

SINGULAR = 1e-6


@dataclass(frozen=True)
class Stages:
    """Points (N, 3) of all parts after each stage: shapes, reliefs, the closing of lids, eye relief, the seal of lips and their corners,
    and bones. What stands before the bones is where it would have to be for them to bring it where it is: the seal is looked for on
    the posed head."""

    shaped: Floats
    raised: Floats
    closed: Floats
    relieved: Floats
    sealed: Floats
    skinned: Floats


class Evaluator:
    """Poses one character by its compiled `rig`: shapes, as far as caps let them add up, reliefs, the closing of lids, eye relief, then
    skinning and the seal of lips, then what rides on it.

    The rig is shared and never changes; the buffers are the evaluator's own, so one evaluator serves one caller at a time, and costs
    nothing but them. A result lives until the next call.
    """

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self.character = character
        self.rig: CompiledRig = compile_rig(character, store)
        self._make_room()

    def with_rig(self, rig: CompiledRig) -> Evaluator:
        """Another evaluator, for a rig of the same meshes."""
        other = copy(self)
        other.rig = rig
        other._make_room()
        return other

    def _make_room(self) -> None:
        count = len(self.meshes.rest)
        self._shaped, self._skinned, self._normals = (np.empty((count, 3), np.float32) for _ in range(3))
        late = (*self.rig.late, *self.rig.late_riders)
        self._held_back = {rows.start: np.zeros((rows.stop - rows.start, 3), np.float32) for rows in late}
        self.posed_by: Floats = np.zeros((0, 4, 4))

    @property
    def meshes(self) -> Meshes:
        return self.rig.meshes

    @property
    def skeleton(self) -> Skeleton:
        return self.rig.skeleton

    def matrices(self, values: Mapping[str, float]) -> Floats:
        """Bone matrices (B, 4, 4), float64. `values` holds every control."""
        return self.skeleton.matrices(values)

    def to_head(self, matrices: Floats) -> Floats:
        """As of the rig."""
        return self.rig.to_head(matrices)

    def frame(self, values: Mapping[str, float]) -> tuple[Floats, Floats]:
        """Posed points and normals (N, 3) of all parts, float32, in the order of the parts; `posed_by` are the matrices of the bones."""
        self._deform(values)
        vertex_normals(self._normals, self._skinned, self.meshes.quads, self.meshes.triangles)
        return self._skinned, self._normals

    def points(self, values: Mapping[str, float]) -> Floats:
        """Posed points (N, 3) alone, a copy."""
        self._deform(values)
        return self._skinned.copy()

    def in_head(self, values: Mapping[str, float]) -> Floats:
        """Posed points (N, 3), float64, as seen from the head."""
        self._deform(values)
        return in_head(self._skinned.astype(np.float64), self.to_head(self.posed_by))

    def stages(self, values: Mapping[str, float]) -> Stages:
        """Points after each stage, copies."""
        matrices = self.matrices(values)
        self._shape(values)
        shaped = self._shaped.copy()
        eyes = self.rig.posed_eyes(matrices)
        self._raise(values)
        raised = self._shaped.copy()
        closing = self._close(self.skeleton.lids_asked(values), eyes)
        closed = self._shaped.copy()
        self._relieve(eyes, closing)
        relieved = self._shaped.copy()
        self._skin(matrices, values)
        return Stages(shaped, raised, closed, relieved, self._unsealed(relieved, matrices, values), self._skinned.copy())

    def before_bones(self, values: Mapping[str, float]) -> Floats:
        """Where bones found the points (N, 3) of the last call, which was of these values; a view that lives until the next."""
        return self._unsealed(self._shaped, self.posed_by, values)

    def posed_from(self, shaped: Floats, values: Mapping[str, float], relieved: bool = True) -> Floats:
        """Posed points (N, 3), float64, with `shaped` (N, 3) in place of what shapes make of the neutral; with eye relief or without."""
        self._shaped[:] = shaped
        self._hold_back()
        self._after_shapes(self.skeleton.dialled(values), relieved)
        return self._skinned.astype(np.float64)

    def shaped(self, values: Mapping[str, float]) -> Floats:
        """What shapes make of the neutral, (N, 3), float64, whether they come before the bones or after them."""
        self._blend(values)
        return self._shaped.astype(np.float64)

    def held_by_caps(self, values: Mapping[str, float]) -> Floats | None:
        """How far caps hold back what shapes add up to, (N, 3) cm; None where they hold nothing."""
        caps, held = self.rig.caps, self.rig.held_back(values)
        if caps is None or held is None or not held.any():
            return None
        found = np.zeros((len(self.meshes.rest), 3))
        found[caps.rows] = held
        return found

    def lids_at(self, values: Mapping[str, float], closing: float, gaze: Floats) -> Floats:
        """Points (N, 3) of all parts before the bones move them, float64, as shapes and lids make them with all lids closed by `closing`
        and all eyes turned by `gaze` (3, 3), whatever the controls say of these."""
        found = self.rig.eyes
        eyes = PosedEyes(np.array([gaze] * len(found), float), np.array([eye.centre for eye in found], float))
        self._shape(values)
        self._raise(values)
        self._relieve(eyes, self._close(np.full((2 * len(self.rig.lids), 1), closing), eyes))
        return self._shaped.astype(np.float64)

    def lid_motion(self, values: Mapping[str, float]) -> tuple[Floats, Floats]:
        """Closing and slide (radians) of all lids, (2 E,) each, the upper one of each eye first."""
        return self.rig.lid_motion(self.skeleton.lids_asked(values), self.rig.posed_eyes(self.matrices(values)))

    def seal_of(self, rows: slice, points: Floats, matrices: Floats, values: Mapping[str, float]) -> tuple[Floats, Floats]:
        """What the seal makes of vertices in `rows` that bones have brought to x: kept (N,) times x plus what is sealed (N, 3). It goes
        by where they were before the bones, `points` (M, 3) of all parts, and not by x."""
        kept, sealed = np.ones(rows.stop - rows.start), np.zeros((rows.stop - rows.start, 3))
        lips, mouth = self.rig.lips, self._mouth(matrices, values)
        if lips is not None and mouth is not None:
            at = lips.vertices[(lips.vertices >= rows.start) & (lips.vertices < rows.stop)]
            probe = np.zeros((2, len(points), 3), np.float32)
            probe[1] = 1  # two places tell what is a straight function of a place
            for out in probe:
                lips.seal(out, points, mouth)
            sealed[at - rows.start] = probe[0][at]
            kept[at - rows.start] = probe[1][at, 0] - probe[0][at, 0]
        return kept, sealed

    def held_back(self, rows: slice) -> Floats:
        """What shapes add after the bones, (N, 3), float64, in the pose of the last call; nothing where they come before."""
        kept = self._held_back.get(rows.start)
        return np.zeros((rows.stop - rows.start, 3)) if kept is None else kept.astype(np.float64)

    def _deform(self, values: Mapping[str, float]) -> None:
        dialled = self.skeleton.dialled(values)
        self._shape(dialled)
        self._after_shapes(dialled)

    def _after_shapes(self, values: Values, relieved: bool = True) -> None:
        matrices = self.posed_by = self.skeleton.matrices(values)
        self._raise(values)
        eyes = self.rig.posed_eyes(matrices)
        closing = self._close(self.skeleton.lids_asked(values), eyes)
        if relieved:
            self._relieve(eyes, closing)
        self._skin(matrices, values)

    def _shape(self, values: Values) -> None:
        self._blend(values)
        self._hold_back()

    def _blend(self, values: Values) -> None:
        self.rig.shapes.add(self._shaped, self.meshes.rest, self.rig.strengths(values))
        caps, held = self.rig.caps, self.rig.held_back(values)
        if caps is not None and held is not None:
            self._shaped[caps.rows] -= held

    def _hold_back(self) -> None:
        """Keep what shapes do to the parts whose bones come first until these have posed them."""
        for rows in (*self.rig.late, *self.rig.late_riders):
            np.subtract(self._shaped[rows], self.meshes.rest[rows], out=self._held_back[rows.start])
            self._shaped[rows] = self.meshes.rest[rows]

    def _raise(self, values: Values) -> None:
        """Add the reliefs to what is shaped, in place."""
        if self.rig.reliefs.names:
            self.rig.reliefs.add(self._shaped, self._shaped, self.skeleton.relief_strengths(values))

    def _close(self, asked: Floats, eyes: PosedEyes) -> Floats:
        """Close the lids by what controls ask of them, (2 E, C), in place; their closings (2 E,)."""
        closing, slide = self.rig.lid_motion(asked, eyes)
        for k, (lids, other, eye) in enumerate(self.rig.closing):
            own = slice(2 * k, 2 * k + 2)
            if other is None:
                lids.close(self._shaped, closing[own], slide[own])
            else:
                other.apply(self._shaped, closing[own], lids.gaze(eyes.turns[eye]))
        return closing

    def _relieve(self, eyes: PosedEyes, closing: Floats) -> None:
        for relief, eye in self.rig.relieving:
            relief.push(self._shaped, eyes.turns[eye], eyes.centres[eye], closing)

    def _skin(self, matrices: Floats, values: Values) -> None:
        rig = self.rig
        rig.skinning.apply(self._skinned, self._shaped, matrices)
        mouth = self._mouth(matrices, values)
        if rig.lips is not None and mouth is not None:  # on the posed points: as if moved before by what the bones would make of it
            rig.lips.seal(self._skinned, self._shaped, mouth)
        for rows in rig.late:
            self._skinned[rows] += self._held_back[rows.start]
        for ride in rig.rides:
            self._skinned[ride.first : ride.first + ride.count] = ridden(ride, self._shaped, self._skinned)
        for rows in rig.late_riders:
            self._skinned[rows] += self._held_back[rows.start]

    def _mouth(self, matrices: Floats, values: Values) -> Mouth | None:
        """How the lips are moved; None where they stay or do not seal."""
        return None if self.rig.lips is None else self.rig.lips.at(matrices, *self.skeleton.mouth(values))

    def _unsealed(self, relieved: Floats, matrices: Floats, values: Values) -> Floats:
        """The posed points where the bones would have to find them, (N, 3)."""
        if self.rig.lips is None or self._mouth(matrices, values) is None:
            return relieved
        sealed, rows = relieved.copy(), self.rig.lips.vertices
        carried = self.rig.skinning.carried_by(rows, matrices)
        sealed[rows] = unskinned(carried, self._skinned[rows], relieved[rows])
        return sealed


def vertex_normals(out: Floats, points: Floats, quads: Ints, triangles: Ints) -> None:
    """Unit normals (N, 3) of points (N, 3) by the areas of their faces, uint32 (Q, 4) and (T, 3), to `out`."""
    backend.current().normals(out, *map(read_only, (points, quads, triangles)))


def unskinned(carried: Floats, wanted: Floats, otherwise: Floats) -> Floats:
    """Where points have to be (K, 3) for blended matrices (K, 4, 4) to bring them where they are `wanted` (K, 3); what these flatten, or
    nothing carries, is where it is `otherwise` (K, 3)."""
    found = otherwise.copy()
    turn, shift = carried[:, :3, :3], carried[:, :3, 3]
    whole = np.abs(np.linalg.det(turn)) > SINGULAR
    found[whole] = np.linalg.solve(turn[whole], (wanted - shift)[whole][..., None])[..., 0]
    return found
