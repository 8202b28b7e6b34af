"""A document compiled to be posed: stages that never change, each made once for as long as what it is made from stays."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.deform import backend
from tightseam.deform.activation import CompiledActivations, compile_activations
from tightseam.deform.caps import CompiledCaps, compile_caps
from tightseam.deform.eye_relief import CompiledEyeRelief, compile_eye_relief
from tightseam.deform.eyes import CompiledEye, compile_eye
from tightseam.deform.lid_drivers import StandIn, stand_in
from tightseam.deform.lids import CompiledLids, compile_lids
from tightseam.deform.lips import CompiledLips, compile_lips
from tightseam.deform.meshes import Meshes, compile_meshes
from tightseam.deform.reliefs import compile_reliefs
from tightseam.deform.ride import CompiledRide, compile_ride
from tightseam.deform.shape_runs import ShapeRuns, compile_shapes
from tightseam.deform.skeleton import Skeleton, Values, compile_skeleton
from tightseam.deform.skinning import Skinning, compile_skinning
from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import DERIVED
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Binding, Character
from tightseam.document.sections import keys_of
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Bools, Floats, Ints


@dataclass(frozen=True)
class PosedEyes:
    """Rotations `turns` (F, 3, 3) and `centres` (F, 3) of the eyes of a rig, in its order, in the space of the neutral head."""

    turns: Floats
    centres: Floats


@dataclass(frozen=True)
class CompiledRig:
    """Everything that poses a character. `stand_ins` are what closes the lids of each eye in place of the arc, None for the arc itself;
    `muted` (S,) the shapes that do nothing, `activations` what brings correctives in, `caps` how far shapes add
    up; `late` and `late_riders` the vertices of the parts that get what shapes do after the bones."""

    meshes: Meshes
    skeleton: Skeleton
    shapes: ShapeRuns
    muted: Bools
    activations: CompiledActivations
    caps: CompiledCaps | None
    reliefs: ShapeRuns
    lids: tuple[CompiledLids, ...]
    stand_ins: tuple[StandIn | None, ...]
    eye_reliefs: tuple[CompiledEyeRelief, ...]
    skinning: Skinning
    lips: CompiledLips | None
    rides: tuple[CompiledRide, ...]
    late: tuple[slice, ...]
    late_riders: tuple[slice, ...]
    head: int | None

    @cached_property
    def eyes(self) -> tuple[CompiledEye, ...]:
        """The eyes that lids or eye relief go by, each once."""
        return tuple({eye.part: eye for eye in [*(x.eye for x in self.lids), *(r.eye for r in self.eye_reliefs)]}.values())

    @cached_property
    def closing(self) -> tuple[tuple[CompiledLids, StandIn | None, int], ...]:
        """All lids with what closes them in place of the arc, if anything does, and the number of their eye."""
        return tuple((x, s, self._eye_numbers[x.eye.part]) for x, s in zip(self.lids, self.stand_ins, strict=True))

    @cached_property
    def relieving(self) -> tuple[tuple[CompiledEyeRelief, int], ...]:
        """The eye reliefs that act by themselves, with the number of their eye: what stands in for the arc has what it can of its own."""
        stood_in = {x.eye.part for x, s, _ in self.closing if s is not None}
        return tuple((r, self._eye_numbers[r.eye.part]) for r in self.eye_reliefs if r.eye.part not in stood_in)

    def strengths(self, values: Values) -> Floats:
        """Strength of each shape, (S,): what is asked of it, and of a corrective what brings it in as well."""
        dialled = self.skeleton.dialled(values)
        found = self.skeleton.strengths(dialled)
        found[self.muted] = 0
        self.activations.add(found, self.skeleton, dialled)
        found[self.muted] = 0
        return found

    def held_back(self, values: Values) -> Floats | None:
        """How far caps bring the vertices that they hold back, (K, 3) cm; None where nothing adds up."""
        return None if self.caps is None else self.caps.held_back(self.skeleton.expressions(values))

    def to_head(self, matrices: Floats) -> Floats:
        """What brings posed points into the space of the neutral head, (4, 4), from the bone matrices; nothing without a head bone."""
        return np.eye(4) if self.head is None else np.linalg.inv(matrices[self.head])

    def posed_eyes(self, matrices: Floats) -> PosedEyes:
        """The eyes, from bone matrices (B, 4, 4)."""
        posed = PosedEyes(np.empty((len(self.eyes), 3, 3)), np.empty((len(self.eyes), 3)))
        if not self.eyes:
            return posed
        carriers, centres, by_several = self._carried_eyes
        head = -1 if self.head is None else self.head
        backend.current().turn_eyes(posed.turns, posed.centres, read_only(matrices), head, carriers, centres)
        for k in by_several:
            posed.turns[k], posed.centres[k] = self.eyes[k].blended(matrices, self.to_head(matrices))
        return posed

    def lid_motion(self, asked: Floats, eyes: PosedEyes) -> tuple[Floats, Floats]:
        """Closing and slide (radians) of all lids, (2 E,) each, the upper one of each eye first, from how far each control
        closes each of them, (2 E, C).

        Closings are places on the arc, not sums: what controls and the gaze leave open multiplies, so that 1 of any one is closed.
        """
        closing, slide = np.empty((2, 2 * len(self.lids)))
        if self.lids:
            backend.current().move_lids(closing, slide, *map(read_only, (asked, eyes.turns, *self._following)))
        return closing, slide

    @cached_property
    def _eye_numbers(self) -> dict[str, int]:
        return {eye.part: k for k, eye in enumerate(self.eyes)}

    @cached_property
    def _carried_eyes(self) -> tuple[Ints, Floats, tuple[int, ...]]:
        """Of each eye the bone that carries it alone, and its centre; which are carried by several bones or none."""
        several = tuple(k for k, eye in enumerate(self.eyes) if eye.carrier is None)
        carriers = np.array([eye.carrier or 0 for eye in self.eyes])
        return read_only(carriers), read_only(np.array([eye.centre for eye in self.eyes], float)), several

    @cached_property
    def _following(self) -> tuple[Ints, Floats, Floats]:
        """Of each pair of lids the number of its eye and which way is outwards; how each lid follows, (2 E, 3, 721)."""
        numbers, outward = np.array([k for *_, k in self.closing]), np.array([x.outward for x in self.lids])
        return read_only(numbers), read_only(outward), read_only(np.concatenate([x.follow for x in self.lids]))


def compile_rig(character: Character, store: ArrayStore) -> CompiledRig:
    """The rig of a character. An edit to one shape does not compile the skeleton again, nor the lids of one eye those of the other."""
    sections = ("parts", "shapes", "caps", "bones", "bindings", "reliefs", "lips", "controls")
    of = dict(zip(sections, keys_of(character, sections), strict=True))
    parts, carried = of["parts"], (of["parts"], of["bones"], of["bindings"])
    meshes = compile_meshes(character, store)
    shapes = DERIVED.get(("shapes", parts, of["shapes"]), lambda: compile_shapes(character.shapes, store, meshes))
    reliefs = DERIVED.get(("reliefs", parts, of["reliefs"]), lambda: compile_reliefs(character.reliefs, store, meshes))
    lid_names = tuple(name for x in character.lids for name in x.names)
    skeleton = DERIVED.get(
        ("skeleton", of["bones"], of["controls"], of["shapes"], lid_names, reliefs.names),
        lambda: compile_skeleton(character.controls, character.bones, shapes.names, lid_names, reliefs.names),
    )
    lips = DERIVED.get(
        ("lips", parts, of["bones"], of["lips"]),
        lambda: next((compile_lips(x, character, store, meshes) for x in character.lips), None),
    )
    eyes = {
        name: DERIVED.get(("eye", name, carried), lambda name=name: compile_eye(name, character, store))  # type: ignore[misc]
        for name in {*(x.eye for x in character.lids), *(r.eye for r in character.eye_reliefs)}
    }
    about = tuple((x.eye, x.skin, x.vertices, x.upper) for x in character.lids)
    eye_reliefs = tuple(
        DERIVED.get(("eye relief", r, carried, about), lambda r=r: compile_eye_relief(r, eyes[r.eye], character, store, meshes))  # type: ignore[misc]
        for r in character.eye_reliefs
    )
    lids = tuple(
        DERIVED.get(("lids", x, carried), lambda x=x: compile_lids(x, eyes[x.eye], store, meshes))  # type: ignore[misc]
        for x in character.lids
    )
    relief_of, own_relief = {r.eye.part: r for r in eye_reliefs}, {r.eye: r for r in character.eye_reliefs}
    stand_ins = tuple(
        DERIVED.get(
            ("stand-in", x, own_relief.get(x.eye), carried, about),
            lambda x=x, c=c: stand_in(x.driver, c, relief_of.get(x.eye), meshes.rest),  # type: ignore[misc]
        )
        for x, c in zip(character.lids, lids, strict=True)
    )
    late = [b for b in character.bindings if b.bones_first]
    return CompiledRig(
        meshes,
        skeleton,
        shapes,
        np.array([s.muted for s in character.shapes], bool),
        DERIVED.get(("activations", of["shapes"]), lambda: compile_activations([s.activation for s in character.shapes])),
        DERIVED.get(
            ("caps", parts, of["shapes"], of["caps"]), lambda: compile_caps(character.caps, character.shapes, shapes, store, meshes)
        ),
        reliefs,
        lids,
        stand_ins,
        eye_reliefs,
        compile_skinning(character, store),
        lips,
        tuple(_ride(b, character, store, meshes, parts) for b in character.bindings if b.ride is not None),
        tuple(meshes.rows(b.part) for b in late if b.ride is None),
        tuple(meshes.rows(b.part) for b in late if b.ride is not None),
        next((k for k, b in enumerate(character.bones) if b.name == "head"), None),
    )


def _ride(binding: Binding, character: Character, store: ArrayStore, meshes: Meshes, parts: str) -> CompiledRide:
    ride = binding.ride
    assert ride is not None
    first, carrier = meshes.rows(binding.part).start, meshes.rows(ride.on).start
    part = find_part(character, binding.part)
    return DERIVED.get(("ride", binding.part, ride, parts), lambda: compile_ride(ride, part, character, store, first, carrier))
