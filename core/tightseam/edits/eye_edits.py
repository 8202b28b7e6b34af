"""Edits of how eyes sit. Vertex order stays; one edit takes one eye or both."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.document.make import make_point
from tightseam.document.model import Character, Part
from tightseam.document.remesh import with_part
from tightseam.document.units import CM_TO_MM
from tightseam.edits.base import Edit
from tightseam.geometry.types import Floats
from tightseam.head.found import found_head
from tightseam.landmarks.eye_seat import EyeBall, fit_eyeball
from tightseam.landmarks.eye_shape import drawn_to_ball, lids_raised


class EyeEdit(Edit):
    """An edit of one or two eyes."""

    parts: list[str] = Field(min_length=1, max_length=2)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        forward = found_head(character, store).axes[2]
        for name in dict.fromkeys(self.parts):
            old = self._eye(character, name)
            character = with_part(character, old, self._seated(old, store, forward))
        return character

    def _eye(self, character: Character, name: str) -> Part:
        found = find_part(character, name)
        if found.kind != "eye":
            raise BadRequest(f"{part_label(found.name)} is no eye; only balls have a centre to turn about.")
        return found

    def _seated(self, eye: Part, store: ArrayStore, forward: Floats) -> Part:
        raise NotImplementedError

    def _ball(self, eye: Part, store: ArrayStore, forward: Floats) -> EyeBall:
        return fit_eyeball(np.asarray(store.get(eye.points)), polygons(store, eye), forward)

    def _said(self) -> str:
        return " and ".join(part_label(p) for p in dict.fromkeys(self.parts))


class CentrePivot(EyeEdit):
    """Put the pivot of an eye to the centre of the ball that most of it lies on."""

    def _seated(self, eye: Part, store: ArrayStore, forward: Floats) -> Part:
        return replace(eye, pivot=make_point(self._ball(eye, store, forward).centre))

    def describe(self, character: Character) -> str:
        return f"Put the pivot of {self._said()} to its centre"


class DrawToBall(EyeEdit):
    """Put the white of an eye on its ball; iris and cornea move along the gaze as one. The pivot goes to the centre."""

    def _seated(self, eye: Part, store: ArrayStore, forward: Floats) -> Part:
        ball = self._ball(eye, store, forward)
        return replace(eye, points=store.put(drawn_to_ball(np.asarray(store.get(eye.points)), ball)), pivot=make_point(ball.centre))

    def describe(self, character: Character) -> str:
        return f"Drew {self._said()} to its ball"


class PushBack(EyeEdit):
    """Move an eye back into the head, pivot and all; negative brings it forward."""

    back_mm: float = Field(ge=-20, le=20)

    def _seated(self, eye: Part, store: ArrayStore, forward: Floats) -> Part:
        shift = -self.back_mm / CM_TO_MM * forward
        moved = np.asarray(store.get(eye.points)) + shift
        return replace(eye, points=store.put(moved), pivot=None if eye.pivot is None else make_point(np.array(eye.pivot) + shift))

    def describe(self, character: Character) -> str:
        return f"Pushed {self._said()} back by {self.back_mm:g} mm"


class RaiseLids(EyeEdit):
    """Move the lids of an eye outwards, lashes and all, less and less beyond them; negative lets them down. Eyes stay."""

    by_mm: float = Field(ge=-10, le=10)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        forward = found_head(character, store).axes[2]
        for name in dict.fromkeys(self.parts):
            ball = self._ball(self._eye(character, name), store, forward)
            for lid in (p for p in character.parts if p.kind in ("skin", "lash")):
                moved = lids_raised(np.asarray(store.get(lid.points)), ball.centre, ball.radius, forward, self.by_mm / CM_TO_MM)
                character = with_part(character, lid, replace(lid, points=store.put(moved)))
        return character

    def describe(self, character: Character) -> str:
        return f"Raised the lids of {self._said()} by {self.by_mm:g} mm"


class Shrink(EyeEdit):
    """Make an eye smaller about its pivot, else about the centre of its ball, by a share of its size; negative makes it larger."""

    less: float = Field(ge=-0.5, le=0.5)

    def _seated(self, eye: Part, store: ArrayStore, forward: Floats) -> Part:
        points = np.asarray(store.get(eye.points))
        about = self._ball(eye, store, forward).centre if eye.pivot is None else np.array(eye.pivot)
        return replace(eye, points=store.put(about + (points - about) * (1 - self.less)))

    def describe(self, character: Character) -> str:
        return f"Shrank {self._said()} by {self.less:.1%}"
