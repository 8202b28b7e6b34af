"""Control values in, posed points out."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from tightseam.deform import backend
from tightseam.deform.compiled import (
    CompiledEye,
    CompiledRelief,
    DualMix,
    compile_dual_mix,
    compile_influences,
    compile_meshes,
    compile_relief,
    compile_shapes,
    mean_weights,
)
from tightseam.deform.dual import dual_of, with_duals
from tightseam.deform.eye_ball import eye_ball
from tightseam.deform.lid_drivers import StandIn, stand_in
from tightseam.deform.lids import CompiledLids, compile_lids, openness_limited
from tightseam.deform.lips import CompiledLips, LipMotion, compile_lips
from tightseam.deform.ride import CompiledRide, compile_ride, ridden
from tightseam.deform.skeleton import compile_skeleton
from tightseam.deform.surface_reliefs import compile_reliefs
from tightseam.document.arrays import ArrayStore
from tightseam.document.kept import Kept
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Binding, Character, Ride
from tightseam.document.sections import dump_section, section_hash
from tightseam.geometry.types import Floats, Ints


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


Turns = dict[str, tuple[Floats, Floats]]  # by eye part: its rotation and its centre in the space of the neutral head
RIGID = 1e-9
SINGULAR = 1e-6
SECTIONS = ("parts", "shapes", "bones", "bindings", "surface_reliefs", "lips", "controls")


SHARED = Kept(256)  # an edit to one shape does not compile the skeleton again


class Evaluator:
    """Poses one character: shapes, reliefs, the closing of lids, eye relief, then the seal of lips and skinning, linear (Magnenat-Thalmann
    et al. 1988) and where it is asked for mixed with dual quaternions (Kavan et al. 2008), then what rides on it.

    Buffers are kept between frames, so nothing is allocated after the first and a result lives until the next call;
    one evaluator serves one caller at a time. Where a total is not 1 it is not normalised: what you see is the fault.
    """

    def __init__(self, character: Character, store: ArrayStore, kept: Kept = SHARED) -> None:
        of = {name: section_hash(dump_section(character, name)) for name in SECTIONS}
        self.character = character
        self.meshes = kept.get(("meshes", of["parts"]), lambda: compile_meshes(character, store))
        self.shapes = kept.get(("shapes", of["parts"], of["shapes"]), lambda: compile_shapes(character.shapes, store, self.meshes))
        lid_names = tuple(name for x in character.lids for name in x.names)
        self.surface_reliefs = kept.get(
            ("reliefs", of["parts"], of["surface_reliefs"]), lambda: compile_reliefs(character.surface_reliefs, store, self.meshes)
        )
        self.skeleton = kept.get(
            ("skeleton", of["bones"], of["controls"], of["shapes"], *lid_names, "reliefs", *self.surface_reliefs.names),
            lambda: compile_skeleton(character.controls, character.bones, self.shapes.names, lid_names, self.surface_reliefs.names),
        )
        self.influences = kept.get(
            ("influences", of["parts"], of["bones"], of["bindings"]), lambda: compile_influences(character, store, self.meshes)
        )
        carried = (of["parts"], of["bones"], of["bindings"])
        self.dual_mix: DualMix | None = kept.get(("dual", *carried), lambda: compile_dual_mix(character, store, self.meshes))
        self.lips: CompiledLips | None = kept.get(
            ("lips", of["parts"], of["bones"], of["lips"]),
            lambda: next((compile_lips(x, character, store, self.meshes) for x in character.lips), None),
        )

        def eye(name: str) -> CompiledEye:
            centre, profile = eye_ball(find_part(character, name), store)
            made: CompiledEye = kept.get(
                ("eye", name, *carried),
                lambda: CompiledEye(name, centre, profile.astype(np.float32), mean_weights(name, character, store)),
            )
            return made

        self.reliefs: list[CompiledRelief] = [
            kept.get(
                ("relief", r, *carried, *(key for x in character.lids for key in (x.eye, x.vertices, x.upper))),
                lambda r=r: compile_relief(r, eye(r.eye), character, store, self.meshes),
            )
            for r in character.reliefs
        ]
        self.lids: list[CompiledLids] = [
            kept.get(("lids", x, *carried), lambda x=x: compile_lids(x, eye(x.eye), store, self.meshes)) for x in character.lids
        ]
        relief_of, own_relief = {r.eye.part: r for r in self.reliefs}, {r.eye: r for r in character.reliefs}
        self.stand_ins: list[StandIn | None] = [
            kept.get(
                ("stand-in", x, own_relief.get(x.eye), *carried),
                lambda x=x, c=c: stand_in(x.driver, c, relief_of.get(x.eye), self.meshes.rest),
            )
            for x, c in zip(character.lids, self.lids, strict=True)
        ]
        self._stood_in = {x.eye for x, s in zip(character.lids, self.stand_ins, strict=True) if s is not None}
        self.rides = [self._ride(b, b.ride, store, kept, of) for b in character.bindings if b.ride is not None]
        count = len(self.meshes.rest)
        self._shaped, self._skinned, self._normals = (np.empty((count, 3), np.float32) for _ in range(3))
        self._eyes = {eye.part: eye for eye in [*(x.eye for x in self.lids), *(r.eye for r in self.reliefs)]}.values()
        self._turned = [np.empty((len(x.turning.vertices), 2), np.float32) for x in self.lids]
        self._pushed = [np.empty((len(r.vertices), 3), np.float32) for r in self.reliefs]
        self._muted = np.array([s.muted for s in character.shapes], bool)
        self._late = [self.meshes.rows(b.part) for b in character.bindings if b.bones_first and b.ride is None]
        self._late_riders = [self.meshes.rows(b.part) for b in character.bindings if b.bones_first and b.ride is not None]
        self._held_back = {rows.start: np.zeros((rows.stop - rows.start, 3), np.float32) for rows in (*self._late, *self._late_riders)}
        self.posed_by: Floats = np.zeros((0, 4, 4))
        self._head = next((k for k, b in enumerate(character.bones) if b.name == "head"), None)

    def _ride(self, binding: Binding, ride: Ride, store: ArrayStore, kept: Kept, of: Mapping[str, str]) -> CompiledRide:
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
        """Posed points and normals (N, 3) of all parts, float32, in the order of the parts; `posed_by` are the matrices of the bones."""
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
        turns = self._eye_turns(matrices)
        self._raise(values)
        raised = self._shaped.copy()
        closing = self._close(self.skeleton.openness(values), turns)
        closed = self._shaped.copy()
        self._relieve(turns, closing)
        relieved = self._shaped.copy()
        self._skin(matrices, values)
        return Stages(shaped, raised, closed, relieved, self._unsealed(relieved, matrices, values), self._skinned.copy())

    def strengths(self, values: Mapping[str, float]) -> tuple[Ints, Floats]:
        """Numbers and strengths of the shapes that are away from zero."""
        found = self.skeleton.strengths(values)
        found[self._muted] = 0
        active = np.flatnonzero(np.abs(found) > 1e-9)
        return active, found[active].astype(np.float32)

    def eye_turn(self, eye: CompiledEye, matrices: Floats, to_head: Floats | None = None) -> tuple[Floats, Floats]:
        """Rotation (3, 3) and centre (3,) of the posed eye in the space of the neutral head."""
        to_head = self.to_head(matrices) if to_head is None else to_head
        if eye.carrier is not None:  # one bone turns it rigidly
            local = to_head @ matrices[eye.carrier]
            return local[:3, :3], local[:3, :3] @ eye.centre + local[:3, 3]
        carried = eye.weights.sum()
        mean = np.tensordot(eye.weights, matrices, 1) / carried if carried > 0 else np.eye(4)
        local = to_head @ mean
        turn = local[:3, :3]
        if np.abs(turn @ turn.T - np.eye(3)).max() > RIGID:  # several bones that turn apart
            u, _, vt = np.linalg.svd(turn)
            turn = u @ np.diag([1, 1, np.linalg.det(u @ vt)]) @ vt
        return turn, local[:3, :3] @ eye.centre + local[:3, 3]

    def posed_from(self, shaped: Floats, values: Mapping[str, float], relieved: bool = True) -> Floats:
        """Posed points (N, 3), float64, with `shaped` (N, 3) in place of what shapes make of the neutral; with eye relief or without."""
        self._shaped[:] = shaped
        self._hold_back()
        self._after_shapes(values, relieved)
        return self._skinned.astype(np.float64)

    def shaped(self, values: Mapping[str, float]) -> Floats:
        """What shapes make of the neutral, (N, 3), float64, whether they come before the bones or after them."""
        self._blend(values)
        return self._shaped.astype(np.float64)

    def _deform(self, values: Mapping[str, float]) -> None:
        self._shape(values)
        self._after_shapes(values)

    def _after_shapes(self, values: Mapping[str, float], relieved: bool = True) -> None:
        matrices = self.posed_by = self.matrices(values)
        self._raise(values)
        turns = self._eye_turns(matrices)
        closing = self._close(self.skeleton.openness(values), turns)
        if relieved:
            self._relieve(turns, closing)
        self._skin(matrices, values)

    def _shape(self, values: Mapping[str, float]) -> None:
        self._blend(values)
        self._hold_back()

    def _hold_back(self) -> None:
        """Keep what shapes do to the parts whose bones come first until these have posed them."""
        for rows in (*self._late, *self._late_riders):
            np.subtract(self._shaped[rows], self.meshes.rest[rows], out=self._held_back[rows.start])
            self._shaped[rows] = self.meshes.rest[rows]

    def _blend(self, values: Mapping[str, float]) -> None:
        s = self.shapes
        active, strength = self.strengths(values)
        backend.current().blend(
            self._shaped, self.meshes.rest, s.run_of_shape, s.run_start, s.run_length, s.run_values, s.values, active, strength
        )

    def _raise(self, values: Mapping[str, float]) -> None:
        """Add the reliefs to what is shaped, in place."""
        s = self.surface_reliefs
        if not s.names:
            return
        found = self.skeleton.relief_strengths(values)
        active = np.flatnonzero(np.abs(found) > 1e-9)
        if len(active):
            backend.current().blend(
                self._shaped, self._shaped, s.run_of_shape, s.run_start, s.run_length, s.run_values, s.values, active,
                found[active].astype(np.float32),
            )  # fmt: skip

    def lids_at(self, values: Mapping[str, float], closing: float, gaze: Floats) -> Floats:
        """Points (N, 3) of all parts before the bones move them, float64, as shapes and lids make them with all lids closed by `closing`
        and all eyes turned by `gaze` (3, 3), whatever the controls say of these."""
        turns = {eye.part: (gaze, eye.centre) for eye in self._eyes}
        self._shape(values)
        self._raise(values)
        self._relieve(turns, self._close(np.full(2 * len(self.lids), 1 - closing), turns))
        return self._shaped.astype(np.float64)

    def lid_motion(self, values: Mapping[str, float]) -> tuple[Floats, Floats]:
        """Closing and slide (radians) of all lids, (2 E,) each, the upper one of each eye first."""
        return self._lid_motion(self.skeleton.openness(values), self._eye_turns(self.matrices(values)))

    def _lid_motion(self, left_open: Floats, turns: Turns) -> tuple[Floats, Floats]:
        """As `lid_motion`, from what controls leave open.

        Closings are places on the arc, not sums: what controls and the gaze leave open multiplies, so that 1 of any one is closed.
        """
        openness = left_open.tolist()
        slide = [0.0] * len(openness)
        for k, lids in enumerate(self.lids):
            for lid, (followed, slid) in enumerate(lids.followed(turns[lids.eye.part][0]), 2 * k):
                openness[lid] *= 1 - min(followed, 1.0)
                slide[lid] = slid
        return 1 - np.array([openness_limited(x) for x in openness]), np.array(slide)

    def _eye_turns(self, matrices: Floats) -> Turns:
        to_head = self.to_head(matrices)
        return {eye.part: self.eye_turn(eye, matrices, to_head) for eye in self._eyes}

    def _close(self, left_open: Floats, turns: Turns) -> Floats:
        if not self.lids:
            return np.zeros(0)
        loops = backend.current()
        closing, slide = self._lid_motion(left_open, turns)
        for k, (lids, turned, other) in enumerate(zip(self.lids, self._turned, self.stand_ins, strict=True)):
            own = slice(2 * k, 2 * k + 2)
            if other is not None:
                other.apply(self._shaped, closing[own], lids.gaze(turns[lids.eye.part][0]))
            elif closing[own].any() or slide[own].any():
                lids.turn(loops, self._shaped, closing[own], slide[own], turned)
        return closing

    def _relieve(self, turns: Turns, closing: Floats) -> None:
        loops = backend.current()
        for relief, pushed in zip(self.reliefs, self._pushed, strict=True):
            if relief.eye.part in self._stood_in:  # what stands in for the arc has what it can of it
                continue
            turn, centre = turns[relief.eye.part]
            loops.relieve(
                self._shaped, relief.vertices, relief.amount, relief.clearance_at(closing), relief.settle, centre.astype(np.float32),
                np.ascontiguousarray(turn, np.float32), relief.eye.profile, pushed,
            )  # fmt: skip
            loops.follow(self._shaped, relief.follower_vertices, relief.follower_rows, pushed)

    def _skin(self, matrices: Floats, values: Mapping[str, float]) -> None:
        table = self.influences
        loops = backend.current()
        skin = loops.skin4 if table.bones.shape[1] == 4 else loops.skin8
        mix, rows = self.dual_mix, packed(matrices)
        for own in (slice(None),) if mix is None else mix.linear:
            skin(self._skinned[own], self._shaped[own], table.bones[own], table.weights[own], rows)
        if mix is not None:
            loops.skin_dual(self._skinned, self._shaped, mix.vertices, mix.mix, table.bones, table.weights, packed_duals(matrices))
        self._seal(matrices, values)
        for rows in self._late:
            self._skinned[rows] += self._held_back[rows.start]
        for ride in self.rides:
            self._skinned[ride.first : ride.first + ride.count] = ridden(ride, self._shaped, self._skinned)
        for rows in self._late_riders:
            self._skinned[rows] += self._held_back[rows.start]

    def _mouth(self, matrices: Floats, values: Mapping[str, float]) -> tuple[CompiledLips, LipMotion, Floats, Floats] | None:
        """The lips, how the jaw moves them, and how far they are sealed and their corners pulled (2,); None where they stay."""
        if self.lips is None:
            return None
        motion = self.lips.motion(matrices)
        seals, pulls = self.skeleton.mouth(values)
        seals = np.maximum(seals, motion.stuck)
        return None if motion.still or not (seals.any() or pulls.any()) else (self.lips, motion, seals, pulls)

    def _seal(self, matrices: Floats, values: Mapping[str, float]) -> None:
        """Seal the lips on the posed points: that is the same as to move them before the bones do by what the bones would make of it."""
        found = self._mouth(matrices, values)
        if found is not None:
            self._seal_lips(self._skinned, self._shaped, found)

    @staticmethod
    def _seal_lips(out: Floats, points: Floats, mouth: tuple[CompiledLips, LipMotion, Floats, Floats]) -> None:
        x, motion, seals, pulls = mouth
        backend.current().seal_lips(
            out, points, x.vertices, x.share, x.when, x.left, x.corners, np.float32(x.lips.soft), seals.astype(np.float32),
            pulls.astype(np.float32), motion.together, motion.apart,
        )  # fmt: skip

    def seal_of(self, rows: slice, points: Floats, matrices: Floats, values: Mapping[str, float]) -> tuple[Floats, Floats]:
        """What the seal makes of vertices in `rows` that bones have brought to x: kept (N,) times x plus what is sealed (N, 3). It goes
        by where they were before the bones, `points` (M, 3) of all parts, and not by x."""
        kept, sealed = np.ones(rows.stop - rows.start), np.zeros((rows.stop - rows.start, 3))
        found = self._mouth(matrices, values)
        if found is not None:
            at = found[0].vertices[(found[0].vertices >= rows.start) & (found[0].vertices < rows.stop)]
            probe = np.zeros((2, len(points), 3), np.float32)
            probe[1] = 1  # two places tell what is a straight function of a place
            for out in probe:
                self._seal_lips(out, points, found)
            sealed[at - rows.start] = probe[0][at]
            kept[at - rows.start] = probe[1][at, 0] - probe[0][at, 0]
        return kept, sealed

    def held_back(self, rows: slice) -> Floats:
        """What shapes add after the bones, (N, 3), float64, in the pose of the last call; nothing where they come before."""
        kept = self._held_back.get(rows.start)
        return np.zeros((rows.stop - rows.start, 3)) if kept is None else kept.astype(np.float64)

    def _unsealed(self, relieved: Floats, matrices: Floats, values: Mapping[str, float]) -> Floats:
        """The posed points where the bones would have to find them, (N, 3)."""
        found = self._mouth(matrices, values)
        if found is None:
            return relieved
        sealed, rows = relieved.copy(), found[0].vertices
        sealed[rows] = unskinned(self.carried_by(rows, matrices), self._skinned[rows], relieved[rows])
        return sealed

    def carried_by(self, rows: Ints, matrices: Floats) -> Floats:
        """The blended matrices (K, 4, 4), float64, that skinning sends vertices through, from the bone matrices."""
        table, whole = self.influences, np.concatenate([matrices, np.eye(4)[None]])
        bones, weights = table.bones[rows], table.weights[rows].astype(float)
        linear = np.einsum("kb,kbij->kij", weights, whole[bones])
        return linear if self.dual_mix is None else with_duals(linear, dual_of(whole)[bones], weights, self.dual_mix.of(rows))


def unskinned(carried: Floats, wanted: Floats, otherwise: Floats) -> Floats:
    """Where points have to be (K, 3) for blended matrices (K, 4, 4) to bring them where they are `wanted` (K, 3); what these flatten, or
    nothing carries, is where it is `otherwise` (K, 3)."""
    found = otherwise.copy()
    turn, shift = carried[:, :3, :3], carried[:, :3, 3]
    whole = np.abs(np.linalg.det(turn)) > SINGULAR
    found[whole] = np.linalg.solve(turn[whole], (wanted - shift)[whole][..., None])[..., 0]
    return found


def packed(matrices: Floats) -> Floats:
    """Matrices (B, 4, 4) as rows of 16 float32, with the identity behind them for what nothing carries."""
    return np.concatenate([matrices, np.eye(4)[None]]).reshape(-1, 16).astype(np.float32)


def packed_duals(matrices: Floats) -> Floats:
    """Matrices (B, 4, 4) as dual quaternions (B + 1, 8), float32, with the identity behind them."""
    out = np.zeros((len(matrices) + 1, 8), np.float32)
    backend.current().duals_of(matrices, out[:-1])
    out[-1, 0] = 1
    return out
