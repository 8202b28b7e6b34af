"""Edits of the Lids station: the closed line, how lids follow the gaze, one eye's lids as the other's."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.limits import MOST_KEYS
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import vertex_mask
from tightseam.document.model import OTHER_SIDE, Character, CurveKey, CurveKeys, GazeFollow, LidDriver, Side
from tightseam.edits.base import Edit
from tightseam.edits.curves import checked_keys
from tightseam.lids.across import with_maps_across
from tightseam.lids.margins import with_margins
from tightseam.lids.setup import FOLLOW_LOWER, FOLLOW_UPPER, LINE
from tightseam.lids.tune import lids_of, reswollen, with_lids

HIGHEST = 1.5  # of the opening, above or below which a closed line makes no sense
MOST_FOLLOWED = 2.0
MOST_SLIDE = 20.0  # degrees
FARTHEST_GAZE = 90.0


class SetClosedLine(Edit):
    """Set where the margins of an eye meet when closed: keys from the inner corner (0) to the outer one (1), heights from the lower
    margin (0) to the upper one (1). With `mirror` the other eye gets the same line."""

    side: Side
    keys: tuple[CurveKey, ...] = Field(min_length=1, max_length=MOST_KEYS)
    mirror: bool = False

    def apply(self, character: Character, store: ArrayStore) -> Character:
        keys = self.line_keys()
        for side in self.sides(character):
            character = reswollen(character, store, replace(lids_of(character, side), line=keys))
        return character

    def line_keys(self) -> CurveKeys:
        """The keys in order; BadRequest where one is out of range or two stand in one place."""
        return checked_keys(self.keys, "closed line", (0.0, 1.0), (1 - HIGHEST, HIGHEST))

    def sides(self, character: Character) -> tuple[Side, ...]:
        """The eyes that get the line."""
        return sides_of(character, self.side, self.mirror)

    def describe(self, character: Character) -> str:
        return f"Set the closed line of {eyes_said(self.side, self.mirror)}"


class SetGazeFollow(Edit):
    """Set how one lid of an eye follows its gaze."""

    side: Side
    lid: Literal["upper", "lower"]
    follow: GazeFollow
    mirror: bool = False

    def apply(self, character: Character, store: ArrayStore) -> Character:
        f, gaze = self.follow, (-FARTHEST_GAZE, FARTHEST_GAZE)
        closing = (-MOST_FOLLOWED, 1.0)
        checked_keys(f.height, "gaze up and down", gaze, closing)
        checked_keys(f.across, "gaze to the sides", gaze, closing)
        checked_keys(f.slide, "slide", gaze, (-MOST_SLIDE, MOST_SLIDE))
        for side in sides_of(character, self.side, self.mirror):
            pair = lids_of(character, side)
            changed = replace(pair, follow_upper=f) if self.lid == "upper" else replace(pair, follow_lower=f)
            character = with_lids(character, changed)
        return character

    def describe(self, character: Character) -> str:
        return f"Set how the {self.lid} lid of {eyes_said(self.side, self.mirror)} follows the gaze"


class CopyLids(Edit):
    """Give the other eye's lids the curves of this one, closed line and gaze follow, or its maps, lid share and eye relief; mirrored."""

    side: Literal["L", "R"]
    what: Literal["curves", "maps"] = "curves"

    def apply(self, character: Character, store: ArrayStore) -> Character:
        pair, other = lids_of(character, self.side), lids_of(character, OTHER_SIDE[self.side])
        if self.what == "maps":
            changed = with_maps_across(character, store, pair, other)
            return reswollen(changed, store, lids_of(changed, other.side))
        return reswollen(character, store, replace(other, line=pair.line, follow_upper=pair.follow_upper, follow_lower=pair.follow_lower))

    def describe(self, character: Character) -> str:
        what = "lids" if self.what == "curves" else "maps of the lids"
        return f"Copied the {what} of eye {self.side} to the other side"


class PickMargins(Edit):
    """Take the closed edge loop through picked vertices, or among triangles the shortest one, for the margins of an eye's lids; their maps
    are set up anew for it."""

    side: Side
    vertices: list[int] = Field(min_length=2, max_length=10_000)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        pair = lids_of(character, self.side)
        vertex_mask(find_part(character, pair.skin), self.vertices)
        return with_margins(character, store, pair, self.vertices)

    def describe(self, character: Character) -> str:
        return f"Picked the margins of eye {self.side}"


class DriveLids(Edit):
    """Have the lids of an eye closed by the arc, by shapes with in-betweens or by a bone each: one of them, never two. Nothing of the arc
    is lost."""

    side: Side
    driver: LidDriver
    mirror: bool = False

    def apply(self, character: Character, store: ArrayStore) -> Character:
        for side in sides_of(character, self.side, self.mirror):
            character = with_lids(character, replace(lids_of(character, side), driver=self.driver))
        return character

    def describe(self, character: Character) -> str:
        between = self.driver.between
        betweens = "no in-betweens" if not between else "1 in-between" if between == 1 else f"{between} in-betweens"
        by = {"arc": "on the arc", "bones": "by bones", "shapes": f"by shapes with {betweens}"}[self.driver.kind]
        return f"Closed the lids of {eyes_said(self.side, self.mirror)} {by}"


class ResetLids(Edit):
    """Put the closed line and the gaze follow of an eye back to what lids are set up with."""

    side: Side

    def apply(self, character: Character, store: ArrayStore) -> Character:
        pair = lids_of(character, self.side)
        return reswollen(character, store, replace(pair, line=LINE, follow_upper=FOLLOW_UPPER, follow_lower=FOLLOW_LOWER))

    def describe(self, character: Character) -> str:
        return f"Put the lids of eye {self.side} back to their start"


def sides_of(character: Character, side: Side, mirror: bool) -> tuple[Side, ...]:
    """An eye, and with `mirror` the other one where it has lids."""
    there = {x.side for x in character.lids}
    return (side, OTHER_SIDE[side]) if mirror and OTHER_SIDE.get(side) in there else (side,)


def eyes_said(side: Side, mirror: bool) -> str:
    return "both eyes" if mirror and side in OTHER_SIDE else f"eye {side}"
