"""Edits of landmarks. Bones that were built from them follow."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.limits import FARTHEST
from tightseam.document.make import make_point
from tightseam.document.model import Character, Landmark
from tightseam.edits.base import Edit
from tightseam.geometry.types import Floats
from tightseam.head.found import FoundHead, found_head
from tightseam.head.landmark_catalogue import NAMES, entry_of, label_of, twin_of
from tightseam.landmarks.bones.rebuild import rebuilt
from tightseam.landmarks.snap import Snap, mirrored_onto, snapped
from tightseam.landmarks.suggest.suggest import suggest

Length = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST)]
Names = Annotated[list[str], Field(min_length=1, max_length=len(NAMES))]
SUGGESTED = {"missing": "Suggested missing landmarks", "undecided": "Suggested landmarks anew", "all": "Suggested all landmarks"}
DECIDED = 1.0  # how sure a place is that a person decided on


class LandmarkEdit(Edit):
    """An edit of landmarks; afterwards bones stand where the landmarks say."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        marks = self.changed({m.name: m for m in character.landmarks}, found_head(character, store))
        order = {name: k for k, name in enumerate(NAMES)}
        changed = replace(character, landmarks=tuple(sorted(marks.values(), key=lambda m: order.get(m.name, len(order)))))
        return changed if changed.skeleton is None else rebuilt(changed, changed.skeleton, store)

    def changed(self, marks: dict[str, Landmark], head: FoundHead) -> dict[str, Landmark]:
        """The landmarks by name after the edit."""
        raise NotImplementedError


class PlaceLandmark(LandmarkEdit):
    """Put a landmark to a point, cm. One that belongs on the skin comes to rest there as `snap` says. With `mirror` its twin goes to
    the mirror image, and one of the middle stays in the middle plane."""

    name: str
    point: tuple[Length, Length, Length]
    snap: Snap = "surface"
    mirror: bool = True

    def changed(self, marks: dict[str, Landmark], head: FoundHead) -> dict[str, Landmark]:
        _known([self.name])
        entry = entry_of(self.name)
        surface = head.skin.surface if head.skin is not None and entry is not None and entry.lies == "on" else None
        before = marks.get(self.name)
        point, twin = np.array(self.point), twin_of(self.name)
        plane = head.frame.plane if self.mirror and head.frame is not None else None
        if plane is not None and twin is None:
            point = point - plane.distance(point[None])[0] * plane.normal
        if surface is not None:
            point = snapped(point, surface, self.snap, None if before is None else np.array(before.point))
        marks[self.name] = _decided(self.name, point)
        if plane is not None and twin is not None:
            marks[twin] = _decided(twin, mirrored_onto(point, plane, surface))
        return marks

    def describe(self, character: Character) -> str:
        both = " and its twin" if self.mirror and twin_of(self.name) else ""
        return f"Placed the landmark {label_of(self.name)}{both}"


class SuggestLandmarks(LandmarkEdit):
    """Take what is found on the mesh: for `missing` ones, for all that nobody has `decided` on, or for `all`."""

    which: Literal["missing", "undecided", "all"] = "missing"

    def changed(self, marks: dict[str, Landmark], head: FoundHead) -> dict[str, Landmark]:
        found = suggest(head)
        if not found:
            raise BadRequest("Nothing is found on this head: it needs a part of kind skin. Set the kinds of the parts at Check-in.")
        taken = {name: m for name, m in found.items() if self._wanted(marks.get(name))}
        return marks | {name: Landmark(name, make_point(m.point), min(m.sure, 0.99)) for name, m in taken.items()}

    def _wanted(self, present: Landmark | None) -> bool:
        return present is None or self.which == "all" or (self.which == "undecided" and present.sure < DECIDED)

    def describe(self, character: Character) -> str:
        return SUGGESTED[self.which]


class ConfirmLandmarks(LandmarkEdit):
    """Say of suggested landmarks that they are right as they are."""

    names: Names

    def changed(self, marks: dict[str, Landmark], head: FoundHead) -> dict[str, Landmark]:
        _placed(self.names, marks)
        return marks | {name: replace(marks[name], sure=DECIDED) for name in self.names}

    def describe(self, character: Character) -> str:
        return f"Confirmed {_said(self.names)}"


class RemoveLandmarks(LandmarkEdit):
    names: Names

    def changed(self, marks: dict[str, Landmark], head: FoundHead) -> dict[str, Landmark]:
        _placed(self.names, marks)
        return {name: m for name, m in marks.items() if name not in self.names}

    def describe(self, character: Character) -> str:
        return f"Removed {_said(self.names)}"


class MirrorLandmarks(LandmarkEdit):
    """Put all landmarks of the other side to the mirror images of those of `side`."""

    side: Literal["L", "R"]

    def changed(self, marks: dict[str, Landmark], head: FoundHead) -> dict[str, Landmark]:
        if head.frame is None:
            raise BadRequest("No middle plane is found: mirroring needs a part of kind skin.")
        for name, mark in list(marks.items()):
            twin, entry = twin_of(name), entry_of(name)
            if twin is not None and entry is not None and name.endswith(f"_{self.side}"):
                surface = head.skin.surface if head.skin is not None and entry.lies == "on" else None
                image = mirrored_onto(np.array(mark.point), head.frame.plane, surface)
                marks[twin] = Landmark(twin, make_point(image), mark.sure)
        return marks

    def describe(self, character: Character) -> str:
        return f"Mirrored the landmarks of side {self.side}"


def _decided(name: str, point: Floats) -> Landmark:
    return Landmark(name, make_point(point), DECIDED)


def _known(names: Iterable[str]) -> None:
    for name in names:
        if entry_of(name) is None:
            raise BadRequest(f"There is no landmark called “{name}”. There are: {', '.join(NAMES[:12])}, …")


def _placed(names: Iterable[str], marks: dict[str, Landmark]) -> None:
    _known(names)
    for name in names:
        if name not in marks:
            raise BadRequest(f"The landmark “{label_of(name)}” is not placed yet.")


def _said(names: list[str]) -> str:
    return f"the landmark {label_of(names[0])}" if len(names) == 1 else f"{len(names)} landmarks"
