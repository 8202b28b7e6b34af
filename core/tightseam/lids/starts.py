"""Starting points of the maps, from landmarks and the picked margins."""

from __future__ import annotations

from typing import Literal

import numpy as np

from tightseam.deform.eyes import eye_ball
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character, Lids
from tightseam.geometry.types import Floats
from tightseam.head.regions import Rim, rim_of
from tightseam.head.surface import Surface, surface_of
from tightseam.lids.eye_relief import relief_map
from tightseam.lids.maps import MapName, margins_of
from tightseam.lids.share import even_share, first_share

Start = Literal["fold", "even"]


def started(character: Character, store: ArrayStore, pair: Lids, which: MapName, how: Start) -> Floats:
    """Values (N,) of a map of one eye made anew. BadRequest where a landmark is missing."""
    surface = skin_surface(character, store, pair)
    rim = rim_of_margins(surface, store, pair)
    centre, profile = eye_ball(find_part(character, pair.eye), store)
    if which == "share":
        return first_share(surface, rim, pair.side, centre) if how == "fold" else even_share(surface, rim, pair.side)
    if how == "even":
        return np.where(rim.inside, 1.0, even_share(surface, rim, pair.side))  # the lining lies on the eye all the way
    made = relief_map(surface, rim, pair.side, profile, centre)
    values = np.zeros(len(surface.points))
    values[made.vertices] = made.amount
    return values


def skin_surface(character: Character, store: ArrayStore, pair: Lids) -> Surface:
    """The skin that lids are part of, with the landmarks."""
    return surface_of(character, store, find_part(character, pair.skin))


def rim_of_margins(surface: Surface, store: ArrayStore, pair: Lids) -> Rim:
    """The rim along the margins as they are picked."""
    upper, lower = margins_of(store, pair)
    return rim_of(surface, [*upper.tolist(), *lower[-2:0:-1].tolist()], int(upper[-1]), int(upper[1]))
