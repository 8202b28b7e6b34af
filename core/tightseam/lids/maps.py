"""Lid share and eye relief as maps: a value 0..1 for every vertex of the skin."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np

from tightseam.deform.eyes import eye_ball
from tightseam.document import older
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points as part_points
from tightseam.document.model import Character, EyeRelief, Lids
from tightseam.document.older import reading
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.lids.eye_relief import resting
from tightseam.lids.tune import eye_relief_of, with_eye_relief, with_lids

MapName = Annotated[Literal["share", "eye_relief"], reading(older.LID_MAPS)]
MAP_LABELS: dict[MapName, str] = {"share": "Lid share", "eye_relief": "Eye relief"}


def map_of(character: Character, store: ArrayStore, pair: Lids, which: MapName) -> Floats:
    """Values (N,) of a map over the skin; all 0 where the eye has no relief."""
    held = pair if which == "share" else eye_relief_of(character, pair)
    values = np.zeros(len(part_points(character, store, pair.skin)))
    if held is None:
        return values
    values[np.asarray(store.get(held.vertices))] = np.asarray(store.get(held.share if isinstance(held, Lids) else held.amount))
    return values


def with_map(character: Character, store: ArrayStore, pair: Lids, which: MapName, values: Floats, held: Bools | None = None) -> Character:
    """The character with the values (N,) of a map, cut to 0..1. What swells then is left as it was; vertices that come in go with the
    lid whose margin is nearest and keep the distance from the eye that they have at rest. Those in `held` (N,) come in though their
    value is nothing."""
    values = np.clip(values, 0, 1)
    moves = values > 0 if held is None else (values > 0) | held
    if which == "share":
        return with_lids(character, _shared(character, store, pair, values, moves))
    return _relieved(character, store, pair, values, moves)


def margins_of(store: ArrayStore, pair: Lids) -> tuple[Ints, Ints]:
    """Vertices of the upper and the lower margin, from the inner to the outer corner."""
    return np.asarray(store.get(pair.upper_margin)), np.asarray(store.get(pair.lower_margin))


def with_upper(points: Floats, upper: Floats, lower: Floats) -> Bools:
    """Which of some points (K, 3) lie nearer to the upper margin (U, 3) than to the lower one (V, 3)."""
    up, low = (np.linalg.norm(points[:, None] - line[None], axis=2).min(axis=1) for line in (upper, lower))
    return np.asarray(up <= low)


def with_lids_by_margin(character: Character, store: ArrayStore, pair: Lids, where: Bools) -> Character:
    """The character with those of the lids' vertices that are in `where` (N,) going with the lid whose margin is nearest."""
    skin, vertices = part_points(character, store, pair.skin), np.asarray(store.get(pair.vertices))
    upper, lower = margins_of(store, pair)
    nearest = with_upper(skin[vertices], skin[upper], skin[lower])
    goes_up = np.where(where[vertices], nearest, np.asarray(store.get(pair.upper)) == 1)
    return with_lids(character, replace(pair, upper=store.put(goes_up.astype(np.uint8))))


def settled_anew(character: Character, store: ArrayStore, pair: Lids, where: Bools) -> Character:
    """The character with the clearance from the eye, and how far lids sink back, as the neutral has them for vertices in `where` (N,)."""
    relief = eye_relief_of(character, pair)
    if relief is None:
        return character
    vertices = np.asarray(store.get(relief.vertices))
    found = resting(part_points(character, store, pair.skin)[vertices], *eye_ball(find_part(character, pair.eye), store))
    clearance, settle = (
        store.put(np.where(where[vertices], anew, np.asarray(store.get(key))).astype(np.float32))
        for anew, key in zip(found, (relief.clearance, relief.settle), strict=True)
    )
    return with_eye_relief(character, replace(relief, clearance=clearance, settle=settle))


def _shared(character: Character, store: ArrayStore, pair: Lids, values: Floats, moves: Bools) -> Lids:
    skin = part_points(character, store, pair.skin)
    margins = margins_of(store, pair)
    moves = moves.copy()
    moves[np.concatenate([*margins, *(np.asarray(store.get(roots)) for _, roots in pair.lashes)])] = True
    vertices = np.flatnonzero(moves)
    upper = with_upper(skin[vertices], skin[margins[0]], skin[margins[1]])
    before = np.asarray(store.get(pair.vertices))
    known = np.isin(vertices, before)
    upper[known] = np.asarray(store.get(pair.upper))[np.searchsorted(before, vertices[known])] == 1
    return replace(
        pair,
        vertices=store.put(vertices.astype(np.int32)),
        upper=store.put(upper.astype(np.uint8)),
        share=store.put(values[vertices].astype(np.float32)),
    )


def _relieved(character: Character, store: ArrayStore, pair: Lids, values: Floats, moves: Bools) -> Character:
    relief = eye_relief_of(character, pair)
    skin = part_points(character, store, pair.skin)
    moves = moves.copy()
    followers = pair.lashes if relief is None else relief.followers
    moves[np.concatenate([*margins_of(store, pair), *(np.asarray(store.get(roots)) for _, roots in followers)])] = True
    vertices = np.flatnonzero(moves)
    clearance, settle, swell = np.zeros((3, len(vertices)))
    known = np.zeros(len(vertices), bool)
    if relief is not None:
        before = np.asarray(store.get(relief.vertices))
        known = np.isin(vertices, before)
        rows = np.searchsorted(before, vertices[known])
        kept = [(clearance, relief.clearance), (settle, relief.settle), *([(swell, relief.swell)] if relief.swell else [])]
        for array, key in kept:
            array[known] = np.asarray(store.get(key))[rows]
    if not known.all():
        clearance[~known], settle[~known] = resting(skin[vertices[~known]], *eye_ball(find_part(character, pair.eye), store))
    changed = EyeRelief(
        pair.eye,
        pair.skin,
        store.put(vertices.astype(np.int32)),
        store.put(values[vertices].astype(np.float32)),
        store.put(clearance.astype(np.float32)),
        store.put(settle.astype(np.float32)),
        followers,
        store.put(swell.astype(np.float32)),
    )
    return with_eye_relief(character, changed)
