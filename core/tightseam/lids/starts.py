"""Starting points of the maps, from landmarks."""

from __future__ import annotations

from typing import Literal

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points, polygons
from tightseam.document.model import Character, Lids
from tightseam.geometry.types import Floats
from tightseam.landmarks.regions import lids
from tightseam.landmarks.surface import Surface
from tightseam.lids.maps import MapName
from tightseam.lids.relief import relief_map
from tightseam.lids.share import even_share, first_share
from tightseam.lids.tune import ball_of

Start = Literal["fold", "even"]


def started(character: Character, store: ArrayStore, pair: Lids, which: MapName, how: Start) -> Floats:
    """Values (N,) of a map of one eye made anew. BadRequest where a landmark is missing, or no loop runs through those of the margin."""
    part = find_part(character, pair.skin)
    marks = {m.name: np.array(m.point) for m in character.landmarks}
    surface = Surface(points(character, store, part.name), polygons(store, part), marks)
    centre, profile = ball_of(character, store, pair.eye)
    rim = lids(surface, pair.side)
    if which == "share":
        return first_share(surface, rim, pair.side, centre) if how == "fold" else even_share(surface, rim, pair.side)
    if how == "even":
        return np.where(rim.inside, 1.0, even_share(surface, rim, pair.side))  # the lining lies on the eye all the way
    made = relief_map(surface, pair.side, profile, centre)
    values = np.zeros(len(surface.points))
    values[made.vertices] = made.amount
    return values
