"""Finding things of a character by name, with errors a rigger understands."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from difflib import get_close_matches
from typing import Protocol, TypeVar

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.model import Binding, Bone, Character, Control, Lids, Part, Pose, Relief, Seam, Shape
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Bools, Floats, Ints


class Named(Protocol):
    @property
    def name(self) -> str: ...


T = TypeVar("T", bound=Named)


def by_name(things: Iterable[T], name: str, noun: str) -> T:
    """The thing of that name; BadRequest names the nearest ones there are."""
    things = list(things)
    for thing in things:
        if thing.name == name:
            return thing
    raise BadRequest(f"There is no {noun} called “{name}”. {_suggestion(name, [t.name for t in things])}")


def _suggestion(name: str, names: list[str]) -> str:
    close = get_close_matches(name, names, n=1)
    if close:
        return f"Did you mean “{close[0]}”?"
    return "There are: " + ", ".join(names[:12]) + ("." if len(names) <= 12 else ", …") if names else "There are none."


def part(character: Character, name: str) -> Part:
    return by_name(character.parts, name, "part")


def skin(character: Character, purpose: str) -> Part:
    """The part of kind skin; BadRequest says for what `purpose` there is none."""
    found = next((p for p in character.parts if p.kind == "skin"), None)
    if found is None:
        raise BadRequest(f"There is no skin to {purpose}.")
    return found


def bone(character: Character, name: str) -> Bone:
    return by_name(character.bones, name, "bone")


def shape(character: Character, name: str) -> Shape:
    return by_name(character.shapes, name, "shape")


def relief(character: Character, name: str) -> Relief:
    return by_name(character.reliefs, name, "relief")


def control(character: Character, name: str) -> Control:
    return by_name(character.controls, name, "control")


def seam(character: Character, name: str) -> Seam:
    return by_name(character.seams, name, "seam")


def pose(character: Character, name: str) -> Pose:
    return by_name(character.poses, name, "pose")


def binding(character: Character, part_name: str) -> Binding | None:
    return next((b for b in character.bindings if b.part == part_name), None)


def points(character: Character, store: ArrayStore, part_name: str) -> Floats:
    return np.asarray(store.get(part(character, part_name).points))


def polygons(store: ArrayStore, of: Part) -> Polygons:
    return Polygons(np.asarray(store.get(of.sizes)), np.asarray(store.get(of.corners)))


def held_by_lids(lids: Iterable[Lids], part: str) -> str | None:
    """The array of the vertices of the skin that a lash's vertices are rooted at, in whichever lids hold it; None for other parts."""
    return next((roots for pair in lids for name, roots in pair.lashes if name == part), None)


def vertex_set(store: ArrayStore, of: Part, name: str) -> Ints:
    """Vertex numbers of a named set; BadRequest where the part has no such set."""
    if name not in of.sets:
        raise BadRequest(f"{of.name} has no vertex set “{name}”. {_suggestion(name, sorted(of.sets))}")
    return np.asarray(store.get(of.sets[name]))


def vertex_mask(of: Part, vertices: Sequence[int]) -> Bools:
    """True for some vertices of a part, (N,); BadRequest where one is not there."""
    if len(vertices):  # before they become int64, which not every number fits
        lowest, highest = min(vertices), max(vertices)
        if lowest < 0 or highest >= of.vertex_count:
            wrong = lowest if lowest < 0 else highest
            raise BadRequest(f"{part_label(of.name)} has vertices 0 to {of.vertex_count - 1}; {wrong} is out of range.")
    mask = np.zeros(of.vertex_count, bool)
    mask[np.asarray(vertices, np.int64)] = True
    return mask
