"""From control values to bone matrices."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.deform import backend
from tightseam.deform.damping import CompiledDamping, compile_damping
from tightseam.deform.drive import AXES, Drive, bone_drive, drive_of
from tightseam.document.channels import STRENGTHS, Channel, channels, strength_of
from tightseam.document.control_chains import chain_depth
from tightseam.document.errors import BadRequest
from tightseam.document.frames import parent_numbers
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import control as find_control
from tightseam.document.model import Bone, Character, Control
from tightseam.document.mouth_model import CORNERS, SEALS
from tightseam.document.poses import rest_values
from tightseam.document.twins import other_side
from tightseam.geometry.read_only import read_only
from tightseam.geometry.rotation import rotation
from tightseam.geometry.types import Floats, Ints

OVERDRIVE = 1.5  # how far beyond its range a control may be asked for when overdrive is meant


def checked_values(character: Character, values: Mapping[str, float], overdrive: bool = False) -> dict[str, float]:
    """Values of all controls, those not given at rest; BadRequest for an unknown control or a value out of range."""
    known = {c.name: c for c in character.controls}
    own = channels(character.bones)
    shapes = {strength_of(s.name): s.label for s in character.shapes}
    result = rest_values(character)
    for name, value in values.items():
        if name not in known and name in own:
            label, rest, (low, high), unit = _said(character, own[name]), 0.0, own[name].span, own[name].unit
        elif name not in known and name in shapes:
            label, rest, (low, high), unit = f"The strength of {shapes[name]}", 0.0, STRENGTHS, ""
        else:
            control = known.get(name) or find_control(character, name)
            label, rest, low, high, unit = control.label, control.rest, control.low, control.high, control.unit
        stretch = OVERDRIVE if overdrive else 1.0
        low, high = rest + (low - rest) * stretch, rest + (high - rest) * stretch
        if not (isinstance(value, (int, float)) and np.isfinite(value)):
            raise BadRequest(f"{label} needs a number.")
        if not low - 1e-9 <= value <= high + 1e-9:
            raise BadRequest(f"{label} goes from {low:g} to {high:g}{unit}; {value:g} is out of range.")
        result[name] = float(value)
    return result


def _said(character: Character, channel: Channel) -> str:
    return f"{find_bone(character, channel.bone).label}, {'turned about' if channel.kind == 'turn' else 'moved along'} its {channel.axis},"


@dataclass(frozen=True)
class Dialled:
    """What a skeleton makes of the values of all its controls, found once and asked for often: where chains and damping leave them,
    `settled` (C,), and what bones and strengths of shapes are asked for by themselves, `own`, by name."""

    settled: Floats
    own: Mapping[str, float]


Values = Mapping[str, float] | Dialled


@dataclass(frozen=True)
class Skeleton:
    """Controls and bones laid out for evaluation.

    `axes` (B, 3, 3) are rows of each bone's own axes; `pivots` (B, 3) cm; `parents` (B,) the number of each bone's parent, -1 for none.
    `turns` and `moves` are the bones' own controls by name: bone and axis; `own_strengths` those of shapes. The drives say what controls
    ask of bones, shapes, lids, reliefs, and of the seal and the corners of the lips; `chained` what they ask of one another, in chains of
    `depth` at most, within their `spans` (C, 2); the `damping` what they leave of one another then.
    """

    controls: tuple[str, ...]
    turning: Drive
    moving: Drive
    shapes: Drive
    lids: Drive
    reliefs: Drive
    seals: Drive
    corners: Drive
    axes: Floats
    pivots: Floats
    parents: Ints
    turns: dict[str, tuple[int, int]]
    moves: dict[str, tuple[int, int]]
    own_strengths: dict[str, int]
    chained: Drive
    depth: int
    spans: Floats
    damping: CompiledDamping

    def dialled(self, values: Values) -> Dialled:
        """For whoever asks for more than one thing. `values` holds every control."""
        if isinstance(values, Dialled):
            return values
        settled = self._settled(np.array([values[name] for name in self.controls], float))
        more = len(values) > len(self.controls)
        return Dialled(settled, {name: values[name] for name in sorted(values.keys() - self._named)} if more else {})

    def strengths(self, values: Values) -> Floats:
        """Strength of each shape, (S,): what controls and its own one ask for, together."""
        dialled = self.dialled(values)
        found = self.shapes.asked(dialled.settled)
        for name in self.own_strengths.keys() & dialled.own.keys():
            found[self.own_strengths[name]] += dialled.own[name]
        return found

    def expressions(self, values: Values) -> Floats:
        """What each expression by itself asks of each shape, (S, E): every control, after those that drive it, and every strength of a
        shape's own that is set; one for both sides is one expression."""
        dialled, numbers = self.dialled(values), self._expressions
        asked = np.zeros((len(numbers), self.shapes.targets))
        np.add.at(asked, [numbers[name] for name in self.controls], self.shapes.effects(dialled.settled).T)
        for name in self.own_strengths.keys() & dialled.own.keys():
            asked[numbers[name], self.own_strengths[name]] += dialled.own[name]
        return asked.T

    @cached_property
    def _named(self) -> frozenset[str]:
        return frozenset(self.controls)

    @cached_property
    def _expressions(self) -> dict[str, int]:
        """By the name of each control, and of each strength of a shape's own: which expression it is, twins the same."""
        names = (*self.controls, *self.own_strengths)
        first: dict[str, int] = {}
        return {name: first.setdefault(min(name, other_side(name) or name), k) for k, name in enumerate(names)}

    def channel_values(self, names: Sequence[str], values: Values, strengths: Floats) -> Floats:
        """What channels are at, (C,), by name: controls with what others add to them, bones and shapes with all that is asked of them; of
        the latter that is `strengths` (S,)."""
        dialled = self.dialled(values)
        found = dict(zip(self.controls, dialled.settled.tolist(), strict=True))
        found |= {name: strengths[self.own_strengths[name]] for name in self.own_strengths.keys() & set(names)}
        for of, asked in ((self.turns, self.angles), (self.moves, self.shifts)):
            own = of.keys() & set(names)
            if own:  # bones are seldom listened to
                rows = asked(dialled)
                found |= {name: rows[of[name]] for name in own}
        return np.array([found[name] for name in names], float)

    def relief_strengths(self, values: Values) -> Floats:
        """Strength of each relief, (R,)."""
        return self.reliefs.asked(self.dialled(values).settled)

    def openness(self, values: Values) -> Floats:
        """What controls leave open of each lid, (2 E,): the product of what each one leaves, 1 at rest, 0 closed."""
        return np.asarray(np.prod(1 - np.minimum(self.lids_asked(values), 1), axis=1))

    def lids_asked(self, values: Values) -> Floats:
        """How far each control closes each lid, (2 E, C)."""
        return self.lids.effects(self.dialled(values).settled)

    def mouth(self, values: Values) -> tuple[Floats, Floats]:
        """How far the lips are sealed (2,), 0 to 1, and the corners follow the jaw beyond their weights (2,), -1 to 1; left, right."""
        settled = self.dialled(values).settled
        return np.minimum(np.maximum(self.seals.asked(settled), 0), 1), np.minimum(np.maximum(self.corners.asked(settled), -1), 1)

    def angles(self, values: Values) -> Floats:
        """Degrees about its x, y, z of each bone, (B, 3): what controls and its own control ask for, together."""
        return self._of_bones(self.turning, self.turns, self.dialled(values))

    def shifts(self, values: Values) -> Floats:
        """Centimetres along its x, y, z of each bone, (B, 3)."""
        return self._of_bones(self.moving, self.moves, self.dialled(values))

    def matrices(self, values: Values) -> Floats:
        """Matrices (B, 4, 4) that take neutral points to where each bone carries them."""
        dialled = self.dialled(values)
        return self.posed(self.angles(dialled), self.shifts(dialled))

    def posed(self, angles: Floats, shifts: Floats) -> Floats:
        """As `matrices`, from degrees (B, 3) about and cm (B, 3) along each bone's own axes."""
        out = np.empty((len(self.parents), 4, 4))
        backend.current().pose_bones(out, *map(read_only, (angles, shifts, self.axes, self.pivots, self.parents)))
        return out

    def handles(self, values: Values) -> Floats:
        """Directions (B, 2, 3, 3) in which each bone's own control acts in this pose: unit vectors that it turns about (0) and moves
        along (1), a row each for x, y and z.

        Turns are made about x first, then z, then y: y stays with the parent, x goes with the bone, z is between.
        """
        dialled = self.dialled(values)
        matrices, angles = self.matrices(dialled), self.angles(dialled)
        bone = np.einsum("bij,bkj->bki", matrices[:, :3, :3], self.axes)  # rows: the posed axes
        still = np.einsum("bki,blk->bli", bone, rotation(angles))  # rows: the axes before the turn, as the parent carries them
        tilted = np.einsum("bki,blk->bli", bone, rotation(angles * [1, 0, 0]))  # before the turn about x alone
        about = np.stack([bone[:, 0], still[:, 1], tilted[:, 2]], axis=1)
        return np.stack([about, still], axis=1)

    @staticmethod
    def _of_bones(drive: Drive, own: Mapping[str, tuple[int, int]], dialled: Dialled) -> Floats:
        found = drive.asked(dialled.settled).reshape(-1, 3)
        for name in own.keys() & dialled.own.keys():
            found[own[name]] += dialled.own[name]
        return found

    def _settled(self, own: Floats) -> Floats:
        found = own
        for _ in range(self.depth):  # what a chain asks for arrives a link a round
            asked = self.chained.asked(found)
            if not asked.any():
                break
            found = np.where(asked == 0, own, np.clip(own + asked, np.minimum(self.spans[:, 0], own), np.maximum(self.spans[:, 1], own)))
        return self.damping.damped(found)


def compile_skeleton(
    controls: Sequence[Control], bones: Sequence[Bone], shapes: Sequence[str], lids: Sequence[str] = (), reliefs: Sequence[str] = ()
) -> Skeleton:
    """Parents stand before children in `bones`; links to what is not in `shapes`, `lids` or `reliefs` have been refused before."""
    row = {bone.name: k for k, bone in enumerate(bones)}
    pivots = np.array([bone.base for bone in bones]).reshape(-1, 3).astype(float)
    axes = np.array([bone.axes for bone in bones]).reshape(-1, 3, 3).astype(float)
    named = {c.name for c in controls}
    own = {name: c for name, c in channels(bones).items() if name not in named}
    turns, moves = ({n: (row[c.bone], AXES.index(c.axis)) for n, c in own.items() if c.kind == kind} for kind in ("turn", "move"))
    return Skeleton(
        tuple(c.name for c in controls),
        bone_drive("turn", controls, list(row)),
        bone_drive("move", controls, list(row)),
        drive_of("shape", controls, shapes),
        drive_of("lid", controls, lids),
        drive_of("relief", controls, reliefs),
        drive_of("seal", controls, SEALS),
        drive_of("corner", controls, CORNERS),
        axes,
        pivots,
        parent_numbers(bones),
        turns,
        moves,
        {strength_of(s): k for k, s in enumerate(shapes) if strength_of(s) not in named and strength_of(s) not in own},
        drive_of("control", controls, [c.name for c in controls]),
        chain_depth(controls) or 0,
        np.array([(c.low, c.high) for c in controls], float).reshape(-1, 2),
        compile_damping(controls),
    )
