"""Edits of reliefs: made, set, ordered, copied to the other side, removed."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from tightseam.brush.canvas import canvas_of
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import moved, with_relief
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.lookup import control as find_control
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import relief as find_relief
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Character, Control, CurveKeys, Point, Relief
from tightseam.document.mouth_model import MOST_RELIEF, ReliefWay
from tightseam.document.removal import without
from tightseam.document.twins import other_side
from tightseam.edits.base import Edit
from tightseam.edits.curves import STRONGEST, Keys, checked_keys, response_keys
from tightseam.jaw.face import LowerFace
from tightseam.jaw.movement import OPEN, driver
from tightseam.jaw.reliefs import PRESETS, RISING, PresetName, mirrored, preset, reflected, rising, softened, with_reliefs

MOST_RELIEFS = 200

Label = Annotated[str, Field(min_length=1, max_length=60)]
Centimetres = Annotated[float, Field(ge=-MOST_RELIEF, le=MOST_RELIEF)]


class AddPreset(Edit):
    """Add the reliefs of a preset, of its usual size or by `cm` at full opening, driven by the opening of the jaw."""

    preset: PresetName
    cm: Centimetres | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        face = LowerFace(character, store)
        made = preset(face, self.preset, {r.name for r in character.reliefs}, self.cm)
        control = driver(character, OPEN)
        return _added(character, made, control, rising(control))

    def describe(self, character: Character) -> str:
        return f"Added the relief {PRESETS[self.preset].label}"


class AddRelief(Edit):
    """Add a relief on picked vertices: with a `region` (0..1) for each, or softly round them over `soft` cm. It moves by `cm` at strength
    1; `control`, or what opens the jaw, drives it along a response curve over its values."""

    label: Label
    part: str
    vertices: list[int] = Field(min_length=1, max_length=2_000_000)
    region: list[Annotated[float, Field(ge=0, le=1)]] | None = None
    soft: float = Field(default=1.0, ge=0, le=20)
    cm: Centimetres = 0.2
    direction: ReliefWay = "out"
    way: Point | None = None
    control: str | None = None
    keys: Keys = RISING

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part = find_part(character, self.part)
        mask = vertex_mask(part, self.vertices)
        if self.region is None:
            face = LowerFace(character, store) if part.kind == "skin" else None
            picked = np.flatnonzero(mask)
            vertices, region = softened(face, picked, self.soft, face.outside) if face else (picked, np.ones(len(picked)))
        else:
            if len(self.region) != len(self.vertices) or mask.sum() != len(self.vertices):
                raise BadRequest(f"{len(self.vertices)} vertices do not fit {len(self.region)} values, or one is listed twice.")
            order = np.argsort(self.vertices)
            vertices, region = np.array(self.vertices)[order], np.array(self.region)[order]
        made = Relief(
            free_name("relief", {r.name for r in character.reliefs}),
            " ".join(self.label.split()),
            part.name,
            store.put(vertices.astype(np.int32)),
            store.put(region.astype(np.float32)),
            self.cm,
            self.direction,
            _way(self.direction, self.way),
        )
        control = find_control(character, self.control) if self.control else driver(character, OPEN)
        return _added(character, (made,), control, response_keys(self.keys))

    def describe(self, character: Character) -> str:
        return f"Added the relief {self.label}"


class ReliefEdit(Edit):
    """A change of one relief."""

    name: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return with_relief(character, self.changed(find_relief(character, self.name)))

    @abstractmethod
    def changed(self, relief: Relief) -> Relief:
        """The relief after the edit."""

    def said(self, character: Character) -> str:
        """The relief as people call it."""
        return f"the relief {find_relief(character, self.name).label}"


class SetRelief(ReliefEdit):
    """Set what a relief does; what is not given stays. With `mirror` its twin does the same, mirrored."""

    label: Label | None = None
    cm: Centimetres | None = None
    direction: ReliefWay | None = None
    way: Point | None = None
    line: list[str] | None = Field(default=None, max_length=64, description="landmarks it goes through, the right one first; none for none")
    profile: Keys | None = None
    exaggerate: float | None = Field(default=None, ge=1, le=10)
    muted: bool | None = None
    mirror: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        relief = find_relief(character, self.name)
        changed = self._lined(character, self.changed(relief))
        character = with_relief(character, changed)
        if self.mirror and relief.twin is not None:
            twin = find_relief(character, relief.twin)
            plane = canvas_of(character, store, find_part(character, relief.part)).plane
            label = other_side(changed.label) or twin.label
            other = replace(
                reflected(changed, plane), name=twin.name, twin=twin.twin, label=label, vertices=twin.vertices, region=twin.region
            )
            character = with_relief(character, other)
        return character

    def changed(self, relief: Relief) -> Relief:
        given = {n: v for n in ("cm", "direction", "exaggerate", "muted") if (v := getattr(self, n)) is not None}
        if self.label is not None:
            given["label"] = " ".join(self.label.split())
        if self.profile is not None:
            given["profile"] = checked_keys(self.profile, "profile", (-1, 1), (-STRONGEST, STRONGEST))
        if self.way is not None or self.direction is not None:
            given["way"] = _way(given.get("direction", relief.direction), self.way or relief.way)
        return replace(relief, **given)

    def _lined(self, character: Character, relief: Relief) -> Relief:
        if self.line is None:
            return relief
        marks = {m.name: m.point for m in character.landmarks}
        missing = next((n for n in self.line if n not in marks), None)
        if missing is not None:
            raise BadRequest(f"The landmark “{missing}” is not placed yet.")
        if len(set(self.line)) == 1:
            raise BadRequest("A line goes through two landmarks or more.")
        return replace(relief, line=tuple(marks[n] for n in self.line), profile=relief.profile if self.line else ())

    def describe(self, character: Character) -> str:
        if self.muted is not None:
            return f"{'Muted' if self.muted else 'Unmuted'} {self.said(character)}"
        if self.exaggerate is not None:
            return (
                f"Exaggerated {self.said(character)} {self.exaggerate:g} times"
                if self.exaggerate > 1
                else f"Set back {self.said(character)}"
            )
        return f"Set {self.said(character)}"


class MoveRelief(Edit):
    """Put a relief before another in the list; at its end without one."""

    name: str
    before: str | None = None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        before = find_relief(character, self.before) if self.before is not None else None
        return replace(character, reliefs=moved(character.reliefs, find_relief(character, self.name), before))

    def describe(self, character: Character) -> str:
        return f"Moved the relief {find_relief(character, self.name).label} in the list"


class CopyRelief(Edit):
    """Add a copy of a relief, or with `to` "other side" its mirror image, which becomes its twin or takes the place of it."""

    name: str
    to: Literal["copy", "other side"] = "copy"

    def apply(self, character: Character, store: ArrayStore) -> Character:
        relief = find_relief(character, self.name)
        taken = {r.name for r in character.reliefs}
        if self.to == "copy":
            made = replace(relief, name=free_name(relief.name, taken), label=f"{relief.label} copy", twin=None)
            return _beside(character, relief, made)
        canvas = canvas_of(character, store, find_part(character, relief.part))
        image = mirrored(relief, store, canvas.partners, canvas.plane)
        if relief.twin is not None:
            twin = find_relief(character, relief.twin)
            return _driven_alike(
                with_relief(character, replace(image, name=twin.name, label=twin.label, twin=relief.name)), relief, twin.name
            )
        label = other_side(relief.label) or relief.label
        made = replace(
            image, name=free_name(relief.name, taken), label=label if label != relief.label else f"{label} mirrored", twin=relief.name
        )
        return _beside(with_relief(character, replace(relief, twin=made.name)), replace(relief, twin=made.name), made)

    def describe(self, character: Character) -> str:
        what = find_relief(character, self.name).label
        return f"Copied the relief {what}" + (" to the other side" if self.to == "other side" else "")


class RemoveRelief(Edit):
    name: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return without(character, "relief", {find_relief(character, self.name).name})

    def describe(self, character: Character) -> str:
        return f"Removed the relief {self.name}"


def _added(character: Character, made: tuple[Relief, ...], control: Control | None, keys: CurveKeys) -> Character:
    if len(character.reliefs) + len(made) > MOST_RELIEFS:
        raise BadRequest(f"There are {len(character.reliefs)} reliefs already; {MOST_RELIEFS} are the most.")
    return with_reliefs(character, made, control, keys)


def _beside(character: Character, relief: Relief, made: Relief) -> Character:
    """The character with a relief added after another and driven as that is."""
    at = [r.name for r in character.reliefs].index(relief.name) + 1
    reliefs = character.reliefs
    character = replace(character, reliefs=(*reliefs[:at], made, *reliefs[at:]))
    return _driven_alike(character, relief, made.name)


def _driven_alike(character: Character, relief: Relief, name: str) -> Character:
    """The character with the relief of that name driven as another is."""

    def linked(control: Control) -> Control:
        kept = tuple(n for n in control.links if (n.kind, n.target) != ("relief", name))
        alike = tuple(replace(n, target=name) for n in control.links if (n.kind, n.target) == ("relief", relief.name))
        return replace(control, links=(*kept, *alike))

    return replace(character, controls=tuple(map(linked, character.controls)))


def _way(direction: ReliefWay, way: Point | None) -> Point | None:
    if direction == "out":
        return None
    if way is None or not np.linalg.norm(way) > 0:
        raise BadRequest("A relief along the surface needs a way to go: give it as left, up and forward.")
    return way
