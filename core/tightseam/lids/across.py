"""Maps of one eye's lids given to the other, as mirror images."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.brush.canvas import canvas_of
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character, Lids
from tightseam.lids.maps import MapName, map_of, margins_of, with_map
from tightseam.lids.tune import eye_relief_of, lids_of, with_eye_relief, with_lids
from tightseam.weights.fields import grown, mended

MATCHED = 0.9  # of a map's vertices that need a mirror image for it to be copied


def with_maps_across(character: Character, store: ArrayStore, pair: Lids, other: Lids) -> Character:
    """The character with lid share and eye relief of `pair` on the `other` eye; a vertex without a mirror image goes by those round it.
    Which lid a vertex goes with, its clearance and how far it sinks back come along, so that a symmetric head closes alike on both sides.

    BadRequest where the two sides are not mirror images of each other.
    """
    part = find_part(character, pair.skin)
    canvas = canvas_of(character, store, part)
    partner = canvas.partners
    which: list[MapName] = ["share", *(["eye_relief"] if eye_relief_of(character, pair) and eye_relief_of(character, other) else [])]  # type: ignore[list-item]
    for name in which:
        own, there = map_of(character, store, pair, name), map_of(character, store, other, name)
        held = np.flatnonzero(own > 0)
        known = partner[held] >= 0
        if known.mean() < MATCHED:
            raise BadRequest(
                f"The two sides are not mirror images: {1 - known.mean():.0%} of the vertices of the lids {pair.side} have no partner. "
                "Use the starting points on the other eye instead."
            )
        there[np.isin(partner, np.flatnonzero(own == 0))] = 0  # beside what is copied nothing stays
        there[partner[held[known]]] = own[held[known]]
        alone = (partner < 0) & grown(canvas, there > 0, 1)
        alone[np.concatenate(margins_of(store, other))] = False
        there = mended(canvas, there, alone) if alone.any() else there
        character = with_map(character, store, other, name, there)
        other = lids_of(character, other.side)
    return _alike(character, store, pair, other, partner)


def _alike(character: Character, store: ArrayStore, pair: Lids, other: Lids, partner: np.ndarray) -> Character:
    """What belongs to the vertices of the maps besides their values, from one side to the other."""
    margin = np.concatenate(margins_of(store, other))
    goes_up = _carried(store, partner, (pair.vertices, pair.upper), (other.vertices, other.upper), np.uint8, margin)
    character = with_lids(character, replace(other, upper=goes_up))
    here, there = eye_relief_of(character, pair), eye_relief_of(character, other)
    if here is None or there is None:
        return character
    clearance, settle = (
        _carried(store, partner, (here.vertices, key), (there.vertices, old), np.float32, np.zeros(0, int))
        for key, old in ((here.clearance, there.clearance), (here.settle, there.settle))
    )
    return with_eye_relief(character, replace(there, clearance=clearance, settle=settle))


def _carried(store: ArrayStore, partner: np.ndarray, own: tuple[str, str], other: tuple[str, str], kind: type, keep: np.ndarray) -> str:
    """Values by vertex of one side as those of the other's vertices, where these have a mirror image and are not to `keep` theirs."""
    vertices, values = (np.asarray(store.get(key)) for key in own)
    into, before = (np.asarray(store.get(key)) for key in other)
    given: np.ndarray = np.array(before, kind)
    row = np.searchsorted(vertices, partner[into]).clip(max=len(vertices) - 1)
    known = (partner[into] >= 0) & (vertices[row] == partner[into]) & ~np.isin(into, keep)
    given[known] = values[row[known]]
    return store.put(given)
