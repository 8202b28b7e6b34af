"""Control values in, posed points out."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from tightseam.deform import backend
from tightseam.deform.compiled import CompiledRelief, compile_eye, compile_influences, compile_meshes, compile_relief, compile_shapes
from tightseam.deform.ride import CompiledRide, compile_ride, ridden
from tightseam.deform.skeleton import compile_skeleton
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Binding, Character, Ride
from tightseam.document.sections import dump_section, section_hash
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Stages:
    """Points (N, 3) of all parts after each stage."""

    shaped: Floats
    relieved: Floats
    skinned: Floats


class CompiledSections:
    """Compiled sections kept by the hashes of what they were compiled from: an edit to one shape does not compile the skeleton again."""

    KEEP = 64

    def __init__(self) -> None:
        self._kept: dict[tuple[str, ...], Any] = {}

    def get(self, key: tuple[str, ...], make: Any) -> Any:
        if key not in self._kept:
            while len(self._kept) >= self.KEEP:
                self._kept.pop(next(iter(self._kept)))
            self._kept[key] = make()
        return self._kept[key]


class Evaluator:
    """Poses one character: shapes, then eye relief, then linear blend skinning (Magnenat-Thalmann et al. 1988), then what rides on it.

    Buffers are kept between frames, so nothing is allocated after the first and a result lives until the next call;
    one evaluator serves one caller at a time. Where a total is not 1 it is not normalised: what you see is the fault.
    """

    def __init__(self, character: Character, store: ArrayStore, kept: CompiledSections | None = None) -> None:
        kept = kept or CompiledSections()
        of = {name: section_hash(dump_section(character, name)) for name in ("parts", "shapes", "bones", "bindings", "reliefs", "controls")}
        self.character = character
        self.meshes = kept.get(("meshes", of["parts"]), lambda: compile_meshes(character, store))
        self.shapes = kept.get(("shapes", of["parts"], of["shapes"]), lambda: compile_shapes(character.shapes, store, self.meshes))
        self.skeleton = kept.get(
            ("skeleton", of["bones"], of["controls"], of["shapes"]),
            lambda: compile_skeleton(character.controls, character.bones, self.shapes.names),
        )
        self.influences = kept.get(
            ("influences", of["parts"], of["bones"], of["bindings"]), lambda: compile_influences(character, store, self.meshes)
        )
        self.reliefs: list[CompiledRelief] = []
        for r in character.reliefs:
            eye = kept.get(("eye", of["parts"], r.eye), lambda r=r: compile_eye(r.eye, self.meshes))
            key = ("relief", r.eye, of["parts"], of["bones"], of["bindings"], of["reliefs"])
            self.reliefs.append(kept.get(key, lambda r=r, eye=eye: compile_relief(r, eye, character, store, self.meshes)))
        self.rides = [self._ride(b, b.ride, store, kept, of) for b in character.bindings if b.ride is not None]
        count = len(self.meshes.rest)
        self._shaped, self._skinned, self._normals = (np.empty((count, 3), np.float32) for _ in range(3))
        self._pushed = [np.empty((len(r.vertices), 3), np.float32) for r in self.reliefs]
        self._head = next((k for k, b in enumerate(character.bones) if b.name == "head"), None)

    def _ride(self, binding: Binding, ride: Ride, store: ArrayStore, kept: CompiledSections, of: Mapping[str, str]) -> CompiledRide:
        first, carrier = self.meshes.rows(binding.part).start, self.meshes.rows(ride.on).start
        part = find_part(self.character, binding.part)
        key = ("ride", binding.part, of["parts"], of["bindings"])
        made: CompiledRide = kept.get(key, lambda: compile_ride(ride, part, self.character, store, first, carrier))
        return made

    def matrices(self, values: Mapping[str, float]) -> Floats:
        """Bone matrices (B, 4, 4), float64. `values` holds every control."""
        return self.skeleton.matrices(values)

    def to_head(self, matrices: Floats) -> Floats:
        """What brings posed points into the space of the neutral head, (4, 4), from the bone matrices; nothing without a head bone."""
        return np.eye(4) if self._head is None else np.linalg.inv(matrices[self._head])

    def frame(self, values: Mapping[str, float]) -> tuple[Floats, Floats]:
        """Posed points and normals (N, 3) of all parts, float32, in the order of the parts."""
        self._deform(values)
        backend.current().normals(self._normals, self._skinned, self.meshes.quads, self.meshes.triangles)
        return self._skinned, self._normals

    def points(self, values: Mapping[str, float]) -> Floats:
        """Posed points (N, 3) alone, a copy."""
        self._deform(values)
        return self._skinned.copy()

    def stages(self, values: Mapping[str, float]) -> Stages:
        """Points after each stage, copies."""
        matrices = self.matrices(values)
        self._shape(values)
        shaped = self._shaped.copy()
        self._relieve(matrices)
        self._skin(matrices)
        return Stages(shaped, self._shaped.copy(), self._skinned.copy())

    def strengths(self, values: Mapping[str, float]) -> tuple[Ints, Floats]:
        """Numbers and strengths of the shapes that are away from zero."""
        found = self.skeleton.strengths(values)
        active = np.flatnonzero(np.abs(found) > 1e-9)
        return active, found[active].astype(np.float32)

    def eye_turn(self, relief: CompiledRelief, matrices: Floats) -> tuple[Floats, Floats]:
        """Rotation (3, 3) and centre (3,) of the posed eye in the space of the neutral head."""
        to_head = self.to_head(matrices)
        carried = relief.eye_weights.sum()
        mean = np.einsum("b,bij->ij", relief.eye_weights, matrices) / carried if carried > 0 else np.eye(4)
        local = to_head @ mean
        u, _, vt = np.linalg.svd(local[:3, :3])
        return u @ np.diag([1, 1, np.linalg.det(u @ vt)]) @ vt, local[:3, :3] @ relief.centre + local[:3, 3]

    def _deform(self, values: Mapping[str, float]) -> None:
        matrices = self.matrices(values)
        self._shape(values)
        self._relieve(matrices)
        self._skin(matrices)

    def _shape(self, values: Mapping[str, float]) -> None:
        s = self.shapes
        active, strength = self.strengths(values)
        backend.current().blend(
            self._shaped, self.meshes.rest, s.run_of_shape, s.run_start, s.run_length, s.run_values, s.values, active, strength
        )

    def _relieve(self, matrices: Floats) -> None:
        loops = backend.current()
        for relief, pushed in zip(self.reliefs, self._pushed, strict=True):
            turn, centre = self.eye_turn(relief, matrices)
            loops.relieve(
                self._shaped, relief.vertices, relief.amount, relief.clearance, relief.settle, centre.astype(np.float32),
                np.ascontiguousarray(turn, np.float32), relief.profile, pushed,
            )  # fmt: skip
            loops.follow(self._shaped, relief.follower_vertices, relief.follower_rows, pushed)

    def _skin(self, matrices: Floats) -> None:
        table = self.influences
        loops = backend.current()
        skin = loops.skin4 if table.bones.shape[1] == 4 else loops.skin8
        skin(self._skinned, self._shaped, table.bones, table.weights, packed(matrices))
        for ride in self.rides:
            self._skinned[ride.first : ride.first + ride.count] = ridden(ride, self._shaped, self._skinned)


def packed(matrices: Floats) -> Floats:
    """Matrices (B, 4, 4) as rows of 16 float32, with the identity behind them for what nothing carries."""
    return np.concatenate([matrices, np.eye(4)[None]]).reshape(-1, 16).astype(np.float32)
