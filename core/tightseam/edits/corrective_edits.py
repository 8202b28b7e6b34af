"""Edits of correctives: shapes that come in by themselves where expressions meet."""

from __future__ import annotations

from dataclasses import replace

from pydantic import Field

from tightseam.correctives.drivers import controls_said, drivers_of, drivers_said, mirrored_drivers
from tightseam.correctives.solve import Place, solved
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_shape
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name, plain_name
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Activation, Character, Driver, Shape
from tightseam.document.poses import away_from_rest
from tightseam.document.shape_model import Mixed
from tightseam.document.twins import other_side
from tightseam.edits.base import Edit, checked
from tightseam.edits.shape_edits import Values
from tightseam.edits.shape_list_edits import Name
from tightseam.edits.shape_making_edits import check_room
from tightseam.shapes.offsets import deltas_of, offsets_of
from tightseam.shapes.sides import flipped
from tightseam.shapes.taken_along import changed_with_riders

PLAIN = "corrective"  # its name, where the labels of what drives it have no letters
MOST_POSES = 24  # that a corrective is solved for at once


class AddCorrective(Edit):
    """A corrective for a pose, to be sculpted there: it does nothing yet, and is driven by all that is away from rest."""

    values: Values
    name: Name | None = None
    mixed: Mixed = "product"

    def apply(self, character: Character, store: ArrayStore) -> Character:
        drivers = drivers_of(character, Evaluator(character, store), checked_values(character, self.values))
        label = self.name or drivers_said(character, drivers)
        return _with_corrective(character, self.name or plain_name(label, PLAIN), label, Activation(drivers, self.mixed))

    def describe(self, character: Character) -> str:
        return f"Made a corrective for {_pose_said(character, self.values)}"


class SolveCorrective(Edit):
    """A corrective that puts right what is wrong in the pose of these `values`: the skin about some `vertices` laid smoothly between what
    is round it, or with `held` kept out of a part, by the name of their seam, with the least bending and in some poses `also`. It moves
    nothing farther than `reach` cm off, and is driven by all that is away from rest, or by `drivers`. With `mirror` the other side gets
    its mirror image."""

    takes_long = True

    values: Values
    vertices: list[int] = Field(default_factory=list, max_length=2_000_000)
    held: str | None = None
    also: list[Values] = Field(default_factory=list, max_length=MOST_POSES)
    reach: float = Field(default=2.0, gt=0, le=10)
    drivers: tuple[Driver, ...] | None = None
    mixed: Mixed = "product"
    mirror: bool = False

    def apply(self, character: Character, store: ArrayStore) -> Character:
        values = checked_values(character, self.values)
        drivers = self.drivers or drivers_of(character, Evaluator(character, store), values)
        activation, label = Activation(drivers, self.mixed), drivers_said(character, drivers)
        made = _with_corrective(character, plain_name(label, PLAIN), label, activation)
        also = tuple(checked_values(character, v) for v in self.also)
        place = Place(values, tuple(self.vertices), self.held, also)
        offsets = solved(character, store, place, activation, self.reach)
        corrective = replace(made.shapes[-1], deltas=deltas_of(store, offsets))
        made = with_shape(made, corrective)
        return MirrorCorrective(name=corrective.name).apply(made, store) if self.mirror else made

    def describe(self, character: Character) -> str:
        return f"Solved a corrective for {_pose_said(character, self.values)}{' on both sides' if self.mirror else ''}"


class SetActivation(Edit):
    """Say what brings a corrective in; without anything it is a plain shape. A shape becomes a corrective by it."""

    name: str
    activation: Activation | None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return checked(with_shape(character, replace(find_shape(character, self.name), activation=self.activation)))

    def describe(self, character: Character) -> str:
        label = find_shape(character, self.name).label
        if self.activation is None:
            return f"Made {label} a plain shape, which nothing brings in by itself"
        return f"Let {drivers_said(character, self.activation.drivers)} bring in {label}"


class MirrorCorrective(Edit):
    """The mirror image of a corrective, brought in by the mirror images of its drivers; one that is there under its name is replaced."""

    name: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        shape = find_shape(character, self.name)
        if shape.activation is None:
            raise BadRequest(f"{shape.label} is no corrective: mirror it as a shape.")
        drivers = mirrored_drivers(character, Evaluator(character, store), shape.activation.drivers)
        if set(drivers) == set(shape.activation.drivers):
            raise BadRequest(f"What drives {shape.label} is its own mirror image. Mirror what it does from one side to the other instead.")
        offsets = changed_with_riders(character, store, offsets_of(character, store, shape), flipped)
        activation, deltas = replace(shape.activation, drivers=drivers), deltas_of(store, offsets)
        name = other_side(shape.name) or f"{shape.name}_mirrored"
        there = next((s for s in character.shapes if s.name == name), None)
        if there is not None:
            return checked(with_shape(character, replace(there, deltas=deltas, activation=activation, muted=shape.muted)))
        label = other_side(shape.label) or drivers_said(character, drivers)
        check_room(character)
        made = replace(shape, name=name, label=label, deltas=deltas, activation=activation)
        return checked(replace(character, shapes=(*character.shapes, made)))

    def describe(self, character: Character) -> str:
        return f"Mirrored the corrective {find_shape(character, self.name).label} to the other side"


def _pose_said(character: Character, values: Values) -> str:
    """All that is away from rest in a pose: "Jaw open × Smile"."""
    return controls_said(character, away_from_rest(character, checked_values(character, values)))


def _with_corrective(character: Character, name: str, label: str, activation: Activation) -> Character:
    """The character with one more corrective that does nothing yet, at the end of its shapes; BadRequest where it cannot be driven so."""
    check_room(character)
    name = free_name(name, {s.name for s in character.shapes})
    return checked(replace(character, shapes=(*character.shapes, Shape(name, label, (), activation=activation))))
