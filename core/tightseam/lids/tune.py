"""Changing how lids close, with the swell that the change asks for."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.deform.eyes import eye_ball
from tightseam.deform.lids import LidTurning
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points as part_points
from tightseam.document.model import Character, EyeRelief, Lids
from tightseam.document.part_mesh import part_mesh
from tightseam.geometry.types import Floats
from tightseam.lids.eye_relief import ReliefMap
from tightseam.lids.swell import swell_to_clear


def lids_of(character: Character, side: str) -> Lids:
    """The lids of one side; BadRequest where that eye has none."""
    found = next((x for x in character.lids if x.side == side), None)
    if found is None:
        raise BadRequest(f"The eye {side} has no lids set up yet." if character.lids else "No lids are set up yet.")
    return found


def eye_relief_of(character: Character, pair: Lids) -> EyeRelief | None:
    """The eye relief of the same eye and skin."""
    return next((r for r in character.eye_reliefs if (r.eye, r.skin) == (pair.eye, pair.skin)), None)


def with_lids(character: Character, pair: Lids) -> Character:
    """The character with `pair` in place of the lids of that side."""
    return replace(character, lids=tuple(pair if x.side == pair.side else x for x in character.lids))


def reswollen(character: Character, store: ArrayStore, pair: Lids) -> Character:
    """As `with_lids`, with as much swell as these lids need: after a change of where or with what share they close."""
    changed = with_lids(character, pair)
    relief = eye_relief_of(changed, pair)
    if relief is None:
        return changed
    return with_eye_relief(changed, replace(relief, swell=store.put(_swell(changed, store, pair, relief))))


def with_eye_relief(character: Character, relief: EyeRelief) -> Character:
    """The character with `relief` in place of that of the same eye and skin, or with it where there was none."""
    others = [(r.eye, r.skin) for r in character.eye_reliefs]
    if (relief.eye, relief.skin) not in others:
        return replace(character, eye_reliefs=(*character.eye_reliefs, relief))
    at = others.index((relief.eye, relief.skin))
    return replace(character, eye_reliefs=(*character.eye_reliefs[:at], relief, *character.eye_reliefs[at + 1 :]))


def relief_map_of(store: ArrayStore, relief: EyeRelief) -> ReliefMap:
    vertices, amount, clearance, settle = (
        np.asarray(store.get(key)) for key in (relief.vertices, relief.amount, relief.clearance, relief.settle)
    )
    return ReliefMap(vertices, *(x.astype(float) for x in (amount, clearance, settle)))


def _swell(character: Character, store: ArrayStore, pair: Lids, relief: EyeRelief) -> Floats:
    skin = part_points(character, store, pair.skin)
    centre, profile = eye_ball(find_part(character, pair.eye), store)
    turning = LidTurning.of(skin, pair, store, centre)
    faces = part_mesh(store, find_part(character, pair.skin)).triangles
    return swell_to_clear(skin, faces, turning, relief_map_of(store, relief), profile).astype(np.float32)
