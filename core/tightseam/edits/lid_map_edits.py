"""Edits of the maps of the Lids station, lid share and eye relief, each with the swell that the change asks for."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from tightseam.brush.brush import Dab
from tightseam.brush.canvas import Canvas, canvas_of
from tightseam.document import older
from tightseam.document.arrays import ArrayStore
from tightseam.document.labels import vertices_said
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import Character, Lids, Side
from tightseam.document.older import reading
from tightseam.edits.base import Edit
from tightseam.edits.drawing import DRAWINGS
from tightseam.edits.lid_edits import eyes_said, sides_of
from tightseam.edits.paint_edits import DONE, MOST_DABS
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.lids.map_stroke import MapPainting
from tightseam.lids.maps import MAP_LABELS, MapName, map_of, margins_of, settled_anew, with_lids_by_margin, with_map
from tightseam.lids.starts import Start, started
from tightseam.lids.tune import lids_of, reswollen
from tightseam.weights.fields import grown, mended, raised, smoothed

Picked = Annotated[list[int], Field(min_length=1, max_length=2_000_000)]


@dataclass(frozen=True)
class MapWork:
    """A map of one eye that is being changed."""

    character: Character
    store: ArrayStore
    pair: Lids
    which: MapName

    @cached_property
    def canvas(self) -> Canvas:
        return canvas_of(self.character, self.store, find_part(self.character, self.pair.skin))

    @cached_property
    def values(self) -> Floats:
        """The map as it is, (N,)."""
        return map_of(self.character, self.store, self.pair, self.which)

    @cached_property
    def margin(self) -> Ints:
        """The vertices of both margins; a mended map holds all of it there."""
        return np.concatenate(margins_of(self.store, self.pair))

    def mask(self, vertices: list[int]) -> Bools:
        """True for some vertices of the skin, (N,); BadRequest where one is not there."""
        return vertex_mask(find_part(self.character, self.pair.skin), vertices)


class LidMapEdit(Edit):
    """A change of a map of one eye; with `mirror` the other eye gets the same, mirrored."""

    side: Side
    map: MapName
    mirror: bool = False

    def apply(self, character: Character, store: ArrayStore) -> Character:
        work = MapWork(character, store, lids_of(character, self.side), self.map)
        values = self.changed(work)
        character = self.settled(work, with_map(character, store, work.pair, self.map, values))
        for side in sides_of(character, self.side, self.mirror)[1:]:
            other = MapWork(character, store, lids_of(character, side), self.map)
            character = with_map(character, store, other.pair, self.map, self.across(work, values, other))
        for side in sides_of(character, self.side, self.mirror):
            character = reswollen(character, store, lids_of(character, side))
        return character

    def changed(self, work: MapWork) -> Floats:
        """The values (N,) after the edit."""
        raise NotImplementedError

    def across(self, work: MapWork, values: Floats, other: MapWork) -> Floats:
        """The values (N,) of the other eye's map, where this one's become `values`: what is changed, mirrored."""
        changed = np.flatnonzero(values != work.values)
        partner = work.canvas.partners[changed]
        done = other.values.copy()
        done[partner[partner >= 0]] = values[changed][partner >= 0]
        return done

    def settled(self, work: MapWork, character: Character) -> Character:
        """What else a change of the map asks for."""
        return character

    def _where(self) -> str:
        return f"{MAP_LABELS[self.map].lower()} of {eyes_said(self.side, self.mirror)}"


class StartMap(LidMapEdit):
    """Make a map anew from landmarks: from the fold to the margin as lids are set up, or spread evenly."""

    how: Start

    def changed(self, work: MapWork) -> Floats:
        return started(work.character, work.store, work.pair, self.map, self.how)

    def across(self, work: MapWork, values: Floats, other: MapWork) -> Floats:
        return self.changed(other)  # each eye by its own landmarks

    def describe(self, character: Character) -> str:
        return f"{'Spread evenly' if self.how == 'even' else 'From fold to margin'}: {self._where()}"


class SmoothMap(LidMapEdit):
    """Draw a map towards the mean of its neighbours, where it is picked or everywhere; the margins keep theirs."""

    vertices: Picked | None = None
    steps: int = Field(default=3, ge=1, le=100)

    def changed(self, work: MapWork) -> Floats:
        where = work.values > 0 if self.vertices is None else work.mask(self.vertices)
        where[work.margin] = False
        return smoothed(work.canvas, work.values, where, self.steps)

    def across(self, work: MapWork, values: Floats, other: MapWork) -> Floats:
        return self.changed(other) if self.vertices is None else super().across(work, values, other)

    def describe(self, character: Character) -> str:
        return f"Smoothed {self._where()}"


class SetMap(LidMapEdit):
    """Give picked vertices one value of a map."""

    vertices: Picked
    value: float = Field(ge=0, le=1)

    def changed(self, work: MapWork) -> Floats:
        return np.where(work.mask(self.vertices), self.value, work.values)

    def describe(self, character: Character) -> str:
        return f"Set {self._where()} to {self.value:.0%} on {vertices_said(len(set(self.vertices)))}"


class MendMap(LidMapEdit):
    """Give picked vertices what their surroundings ask for, all of it at the margins, and have them go with the lid whose margin is
    nearest."""

    vertices: Picked

    def changed(self, work: MapWork) -> Floats:
        where, values = work.mask(self.vertices), work.values.copy()
        at_margin = np.intersect1d(work.margin, self.vertices)
        where[at_margin], values[at_margin] = False, 1.0
        return mended(work.canvas, values, where) if where.any() else values

    def settled(self, work: MapWork, character: Character) -> Character:
        return with_lids_by_margin(character, work.store, lids_of(character, self.side), work.mask(self.vertices))

    def describe(self, character: Character) -> str:
        return f"Mended {self._where()} on {vertices_said(len(set(self.vertices)))}"


class FitRelief(LidMapEdit):
    """Raise the eye relief of picked vertices to all of it, softly round them, with the clearance they have in the neutral."""

    map: Annotated[Literal["eye_relief"], reading(older.LID_MAPS)] = "eye_relief"
    vertices: Picked

    def changed(self, work: MapWork) -> Floats:
        return raised(work.canvas, work.values, work.mask(self.vertices))

    def settled(self, work: MapWork, character: Character) -> Character:
        return settled_anew(character, work.store, work.pair, grown(work.canvas, work.mask(self.vertices), 1))

    def describe(self, character: Character) -> str:
        return f"Raised the {self._where()} on {vertices_said(len(set(self.vertices)))}"


class PaintMap(Edit):
    """Paint a map of lids with a brush, dab by dab."""

    drawn = True

    painting: MapPainting
    dabs: list[Dab] = Field(min_length=1, max_length=MOST_DABS)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return DRAWINGS.painted(character, store, self.painting, self.dabs)

    def describe(self, character: Character) -> str:
        p = self.painting
        return f"{DONE[self.dabs[0].tool]} {MAP_LABELS[p.map].lower()} of {eyes_said(p.side, p.mirror)}"
