"""The demo cast as documents."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from tightseam.demo.body import body_stand_in
from tightseam.demo.build import RawHead, build_head
from tightseam.demo.faults import RIG_FAULTS, plant_in_rig
from tightseam.demo.jaw_faults import hollow_cheeks
from tightseam.demo.lid_faults import plant_in_lids
from tightseam.demo.mesh_faults import MeshFault
from tightseam.demo.mixes import with_mixes_mended
from tightseam.demo.pim_faults import plant_pim
from tightseam.demo.presets import HOB, MAREN, PIM
from tightseam.demo.raw import RawPart
from tightseam.demo.shape_faults import plant_in_shapes
from tightseam.demo.weight_faults import plant_in_maren
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.make import make_part
from tightseam.document.model import About, Character, CheckIn, Delivered, Part, Skeleton
from tightseam.first_rig import first_rig
from tightseam.geometry.polygons import Polygons

STORY = "The Lantern Post"
PRESETS = {"maren": MAREN, "pim": PIM, "hob": HOB}
ABOUT = {
    "maren": "adult, hair in a bun, runs the sorting boat: bound and half tuned",
    "pim": "child, tousled hair, apprentice: fresh from modelling, nothing rigged",
    "hob": "elder, big moustache, keeps the river lamps: fully rigged",
    "body": "shoulders and chest with spine, neck and head bones, for joining a head to",
}
NAMES = tuple(PRESETS)
CHOICES = {"maren": Skeleton(face="both", ears=True)}
PLANTERS: dict[str, tuple[Callable[[Character, ArrayStore], tuple[Character, object]], ...]] = {
    "maren": (plant_in_maren,),
    "hob": (plant_in_lids, hollow_cheeks, plant_in_shapes),
}
PIM_FILE = "pim_head_v3.usdc"


def cast(name: str, store: ArrayStore, clean: bool = False) -> Character:
    """A member of the cast, with the planted faults or without; BadRequest for a name that is not in it.

    The clean ones are all rigged, and mended where expressions are mixed, too; with his faults Pim is nothing but meshes, as they came.
    """
    who = name.lower()
    if who not in ABOUT:
        raise BadRequest(f"Nobody in the cast is called “{name}”. There are: {', '.join(ABOUT)}.")
    if who == "body":
        return body_stand_in(STORY, store)
    raw = build_head(PRESETS[who])
    if who == "pim" and not clean:
        return fresh_pim(raw, store)[0]
    character = first_rig(who.capitalize(), STORY, raw_parts(raw, store), raw.landmarks, store, CHOICES.get(who))
    if clean:
        return with_mixes_mended(who, character, store)
    character = plant_in_rig(character, store, RIG_FAULTS[who])
    for plant in PLANTERS[who]:
        character = plant(character, store)[0]
    return character


def fresh_pim(raw: RawHead, store: ArrayStore) -> tuple[Character, tuple[MeshFault, ...]]:
    """Pim as delivered, and what was planted in him. `raw` is changed."""
    planted = plant_pim(raw, PIM)
    parts = tuple(replace(p, delivered=Delivered(PIM_FILE, p.name, p.vertex_count)) for p in raw_parts(raw, store))
    return Character(About("Pim", STORY), parts, checkin=CheckIn(unit_cm=1.0)), planted


def raw_parts(raw: RawHead, store: ArrayStore) -> tuple[Part, ...]:
    return tuple(_part(p, store) for p in raw.parts)


def _part(raw: RawPart, store: ArrayStore) -> Part:
    part = make_part(store, raw.name, raw.kind, raw.points, Polygons.from_lists(raw.polygons), raw.colours, raw.face_colours)  # type: ignore[arg-type]
    pivot = None if raw.pivot is None else tuple(float(x) for x in raw.pivot)
    transform = None if raw.transform is None else tuple(float(x) for x in np.ravel(raw.transform))
    return replace(part, pivot=pivot, transform=transform)  # type: ignore[arg-type]
