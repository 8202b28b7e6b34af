"""Edits of shapes: named, ordered, mirrored, split, mixed, scaled; bones baked into them and taken out of them."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import replace
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import moved, with_links_to
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Character, Link, Shape, Side
from tightseam.edits.base import Edit
from tightseam.shapes.offsets import Offsets, made_shape, offsets_of, summed
from tightseam.shapes.posed import BonePose
from tightseam.shapes.sides import Sides, flipped, mirrored, split

MOST_SHAPES = 2000
STRONGEST = 10.0

Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^\S(.*\S)?$")]
Values = Annotated[dict[str, float], Field(max_length=2000)]


class ShapeEdit(Edit):
    """A change of one shape."""

    name: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        shape = find_shape(character, self.name)
        offsets = self.changed(character, store, offsets_of(character, store, shape))
        made = made_shape(store, shape.name, shape.label, offsets)
        return replace(character, shapes=tuple(made if s is shape else s for s in character.shapes))

    @abstractmethod
    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        """What the shape does after the edit."""

    def said(self, character: Character) -> str:
        return find_shape(character, self.name).label


class MirrorShape(ShapeEdit):
    """Copy what a shape does on one side over to the other."""

    of: Side = "L"

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        if self.of == "C":
            raise BadRequest("A shape is mirrored from its left or its right side.")
        return mirrored(Sides(character, store), offsets, self.of)

    def describe(self, character: Character) -> str:
        return f"Mirrored the shape {self.said(character)} from its {'left' if self.of == 'L' else 'right'}"


class FlipShape(ShapeEdit):
    """Turn a shape into its mirror image: what the left did, the right does."""

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        return flipped(Sides(character, store), offsets)

    def describe(self, character: Character) -> str:
        return f"Flipped the shape {self.said(character)}"


class ScaleShape(ShapeEdit):
    """Make a shape so many times as strong."""

    by: float = Field(ge=-STRONGEST, le=STRONGEST)

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        return summed([(offsets, self.by)])

    def describe(self, character: Character) -> str:
        return f"Scaled the shape {self.said(character)} by {self.by:g}"


class TakeOutPose(ShapeEdit):
    """Take what bones do in a pose out of a shape, so that both together give what the shape alone gave: nothing counts twice."""

    values: Values

    def changed(self, character: Character, store: ArrayStore, offsets: Offsets) -> Offsets:
        pose = BonePose(Evaluator(character, store), store, checked_values(character, self.values))
        return pose.taken_out(offsets)[0]

    def describe(self, character: Character) -> str:
        return f"Took a pose of the bones out of the shape {self.said(character)}"


class Term(BaseModel):
    """A shape and its strength in a mix."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)

    shape: str
    strength: float = Field(default=1.0, ge=-STRONGEST, le=STRONGEST)


class MixShapes(Edit):
    """A new shape that does what several do together, each at its strength; a negative one is taken away."""

    name: Name
    terms: list[Term] = Field(min_length=1, max_length=200)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        found = [(offsets_of(character, store, find_shape(character, t.shape)), t.strength) for t in self.terms]
        return _added(character, store, self.name, summed(found))

    def describe(self, character: Character) -> str:
        return f"Mixed {len(self.terms)} shapes into {self.name}" if len(self.terms) > 1 else f"Made the shape {self.name}"


class BakePose(Edit):
    """A new shape of what bones do in a pose to every part that they carry."""

    name: Name
    values: Values

    def apply(self, character: Character, store: ArrayStore) -> Character:
        pose = BonePose(Evaluator(character, store), store, checked_values(character, self.values))
        return _added(character, store, self.name, pose.baked())

    def describe(self, character: Character) -> str:
        return f"Baked a pose of the bones into the shape {self.name}"


class SplitShape(Edit):
    """Two new shapes, the left and the right half of one, which add up to it; they hand over across `soft` cm to either side."""

    name: str
    soft: float = Field(default=0.6, ge=0, le=20)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        shape = find_shape(character, self.name)
        halves = split(Sides(character, store), offsets_of(character, store, shape), self.soft)
        for side, half in zip("LR", halves, strict=True):
            character = _added(character, store, f"{shape.name}_{side}", half, f"{shape.label} {side}")
        return character

    def describe(self, character: Character) -> str:
        return f"Split the shape {find_shape(character, self.name).label} into left and right"


class RenameShape(Edit):
    """Give a shape another name; what drives it goes on driving it."""

    name: str
    to: Name

    def apply(self, character: Character, store: ArrayStore) -> Character:
        shape = find_shape(character, self.name)
        if any(s.name == self.to for s in character.shapes if s is not shape):
            raise BadRequest(f"There is a shape called “{self.to}” already.")

        def named(link: Link) -> Link:
            return replace(link, target=self.to) if (link.kind, link.target) == ("shape", shape.name) else link

        shapes = tuple(replace(s, name=self.to, label=self.to) if s is shape else s for s in character.shapes)
        return replace(character, shapes=shapes, controls=tuple(replace(c, links=tuple(map(named, c.links))) for c in character.controls))

    def describe(self, character: Character) -> str:
        return f"Renamed the shape {self.name} to {self.to}"


class MoveShape(Edit):
    """Put a shape before another in the list; at its end without one."""

    name: str
    before: str | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        before = find_shape(character, self.before) if self.before is not None else None
        return replace(character, shapes=moved(character.shapes, find_shape(character, self.name), before))

    def describe(self, character: Character) -> str:
        return f"Moved the shape {find_shape(character, self.name).label} in the list"


class RemoveShapes(Edit):
    names: list[str] = Field(min_length=1, max_length=MOST_SHAPES)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        gone = {find_shape(character, name).name for name in self.names}
        left = tuple(s for s in character.shapes if s.name not in gone)
        return replace(character, shapes=left, controls=with_links_to(character.controls, {"shape": {s.name for s in left}}))

    def describe(self, character: Character) -> str:
        return f"Removed the shape {self.names[0]}" if len(self.names) == 1 else f"Removed {len(self.names)} shapes"


def _added(character: Character, store: ArrayStore, name: str, offsets: Offsets, label: str | None = None) -> Character:
    """The character with one more shape, at the end of the list."""
    if len(character.shapes) >= MOST_SHAPES:
        raise BadRequest(f"There are {MOST_SHAPES} shapes already, which are the most.")
    made: Shape = made_shape(store, free_name(name, {s.name for s in character.shapes}), label or name, offsets)
    return replace(character, shapes=(*character.shapes, made))
