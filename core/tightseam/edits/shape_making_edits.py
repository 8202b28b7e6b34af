"""Edits that make shapes: from the neutral, from a pose, from others, between strengths."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from pydantic import BaseModel, ConfigDict, Field

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_shape
from tightseam.document.check_arrays import check_shape_arrays
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Character, Shape
from tightseam.document.poses import away_from_rest
from tightseam.edits.base import Edit
from tightseam.edits.shape_edits import STRONGEST, Values
from tightseam.edits.shape_list_edits import MOST_SHAPES, Name, Names
from tightseam.geometry.types import Floats
from tightseam.shapes.between import with_between
from tightseam.shapes.offsets import made_shape, offsets_of, summed
from tightseam.shapes.posed import BonePose, before_bones
from tightseam.shapes.sides import sides_of, split
from tightseam.shapes.starter import Which, starter_units


class NewShape(Edit):
    """A shape that does nothing yet, to be sculpted. `values` is the pose it is asked for in: not at rest, it is refused."""

    name: Name
    values: Values = Field(default_factory=dict)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        away = away_from_rest(character, checked_values(character, self.values, overdrive=True))
        if away:
            labels = {c.name: c.label for c in character.controls}
            name, value = next(iter(away.items()))
            raise BadRequest(
                f"{labels.get(name, name)} is at {value:g}, so what is seen is not the neutral. "
                "Put all controls to rest, or make the shape from this pose."
            )
        return added(character, store, self.name, {})

    def describe(self, character: Character) -> str:
        return f"Made the shape {character.shapes[-1].label}"


class ShapeFromPose(Edit):
    """A new shape of all that a pose does before the bones: with it and the bones alone the pose looks the same."""

    name: Name
    values: Values

    def apply(self, character: Character, store: ArrayStore) -> Character:
        found = before_bones(Evaluator(character, store), checked_values(character, self.values, overdrive=True))
        return added(character, store, self.name, found)

    def describe(self, character: Character) -> str:
        return f"Made the shape {character.shapes[-1].label} from a pose"


class Term(BaseModel):
    """A shape and its strength in a sum."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)

    shape: str
    strength: float = Field(default=1.0, ge=-STRONGEST, le=STRONGEST)


class AddUpShapes(Edit):
    """A new shape that does what several do together, each at its strength; a negative one is taken away."""

    name: Name
    terms: list[Term] = Field(min_length=1, max_length=200)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        found = [(offsets_of(character, store, find_shape(character, t.shape)), t.strength) for t in self.terms]
        return added(character, store, self.name, summed(found))

    def describe(self, character: Character) -> str:
        return (
            f"Added up {len(self.terms)} shapes as {self.name}" if len(self.terms) > 1 else f"Made the shape {character.shapes[-1].label}"
        )


class TakeInShapes(Edit):
    """Shapes from delivered targets, whose arrays lie in the store already. One of a name that is there takes its place: what drove that
    one drives it."""

    shapes: list[Shape] = Field(min_length=1, max_length=MOST_SHAPES)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        check_shape_arrays(self.shapes, store, {p.name: p.vertex_count for p in character.parts})
        fresh = {s.name: s for s in self.shapes}
        kept = tuple(fresh.pop(s.name, s) for s in character.shapes)
        if len(kept) + len(fresh) > MOST_SHAPES:
            raise BadRequest(f"That would be {len(kept) + len(fresh)} shapes; {MOST_SHAPES} are the most.")
        return replace(character, shapes=(*kept, *fresh.values()))

    def describe(self, character: Character) -> str:
        return f"Added the shape {self.shapes[0].label}" if len(self.shapes) == 1 else f"Added {len(self.shapes)} shapes"


class DuplicateShapes(Edit):
    """Copies of shapes, at the end of the list."""

    names: Names

    def apply(self, character: Character, store: ArrayStore) -> Character:
        for shape in [find_shape(character, name) for name in self.names]:
            check_room(character)
            name = free_name(f"{shape.name}_copy", {s.name for s in character.shapes})
            character = replace(character, shapes=(*character.shapes, replace(shape, name=name, label=name)))
        return character

    def describe(self, character: Character) -> str:
        return f"Copied the shape {self.names[0]}" if len(self.names) == 1 else f"Copied {len(self.names)} shapes"


class BakePose(Edit):
    """A new shape of what bones do in a pose to every part that they carry."""

    name: Name
    values: Values

    def apply(self, character: Character, store: ArrayStore) -> Character:
        pose = BonePose(Evaluator(character, store), store, checked_values(character, self.values))
        return added(character, store, self.name, pose.baked())

    def describe(self, character: Character) -> str:
        return f"Baked a pose of the bones into the shape {character.shapes[-1].label}"


class MergePose(Edit):
    """A new shape of what bones do in a pose together with what a shape does; that one is kept aside, muted."""

    name: Name
    shape: str
    values: Values

    def apply(self, character: Character, store: ArrayStore) -> Character:
        old = find_shape(character, self.shape)
        pose = BonePose(Evaluator(character, store), store, checked_values(character, self.values))
        merged = summed([(pose.baked(), 1.0), (offsets_of(character, store, old), 1.0)])
        return with_shape(added(character, store, self.name, merged), replace(old, muted=True))

    def describe(self, character: Character) -> str:
        return f"Merged {find_shape(character, self.shape).label} and a pose of the bones into the shape {character.shapes[-1].label}"


class SplitShape(Edit):
    """Two new shapes, the left and the right half of one, which add up to it; they hand over across `soft` cm to either side."""

    name: str
    soft: float = Field(default=0.6, ge=0, le=20)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        shape = find_shape(character, self.name)
        halves = split(sides_of(character, store), offsets_of(character, store, shape), self.soft)
        for side, half in zip("LR", halves, strict=True):
            character = added(character, store, f"{shape.name}_{side}", half, f"{shape.label} {side}")
        return character

    def describe(self, character: Character) -> str:
        return f"Split the shape {find_shape(character, self.name).label} into left and right"


class AddBetween(Edit):
    """An in-between of a shape: a new one, still empty, that what drives the shape brings in around a strength of it."""

    name: str
    at: float = Field(default=0.5, gt=0.02, lt=0.98)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        check_room(character)
        return with_between(character, find_shape(character, self.name), self.at)

    def describe(self, character: Character) -> str:
        return f"Made an in-between of {find_shape(character, self.name).label} at {self.at:.0%}"


class AddStarterSet(Edit):
    """Action units from the landmarks, as surface falloffs to go on from; all of them, or those of some numbers; left and right apart or
    both in one. One that is there already stays."""

    takes_long = True

    units: Names | None = None
    which: Which = "apart"

    def apply(self, character: Character, store: ArrayStore) -> Character:
        there = {s.name for s in character.shapes}
        for name, label, offsets in starter_units(character, store, self.units, self.which):
            if name not in there:
                character = added(character, store, name, offsets, label)
        return character

    def describe(self, character: Character) -> str:
        return f"Made {len(self.units)} action units" if self.units else "Made the starter set of action units"


def added(character: Character, store: ArrayStore, name: str, offsets: Mapping[str, Floats], label: str | None = None) -> Character:
    """The character with one more shape, at the end of the list."""
    check_room(character)
    own = free_name(name, {s.name for s in character.shapes})
    made: Shape = made_shape(store, own, label or own, offsets)
    return replace(character, shapes=(*character.shapes, made))


def check_room(character: Character) -> None:
    """BadRequest where there are as many shapes as there may be."""
    if len(character.shapes) >= MOST_SHAPES:
        raise BadRequest(f"There are {MOST_SHAPES} shapes already, which are the most.")
