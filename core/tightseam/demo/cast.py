"""The demo cast as documents."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.demo.build import RawHead, build_head
from tightseam.demo.faults import plant_maren
from tightseam.demo.presets import HOB, MAREN, PIM
from tightseam.demo.raw import RawPart
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.make import make_part
from tightseam.document.model import Character, Part
from tightseam.first_rig import first_rig
from tightseam.geometry.polygons import Polygons

STORY = "The Lantern Post"
PRESETS = {"maren": MAREN, "pim": PIM, "hob": HOB}
NAMES = tuple(PRESETS)


def cast(name: str, store: ArrayStore, clean: bool = False) -> Character:
    """A member of the cast, with the planted faults or without; BadRequest for a name that is not in it."""
    if name.lower() not in NAMES:
        raise BadRequest(f"Nobody in the cast is called “{name}”. There are: {', '.join(NAMES)}.")
    raw = build_head(PRESETS[name.lower()])
    character = first_rig(name.capitalize(), STORY, raw_parts(raw, store), raw.landmarks, store)
    return character if clean or name.lower() != "maren" else plant_maren(character, store)


def raw_parts(raw: RawHead, store: ArrayStore) -> tuple[Part, ...]:
    return tuple(_part(p, store) for p in raw.parts)


def _part(raw: RawPart, store: ArrayStore) -> Part:
    part = make_part(store, raw.name, raw.kind, raw.points, Polygons.from_lists(raw.polygons), raw.colours, raw.face_colours)  # type: ignore[arg-type]
    pivot = None if raw.pivot is None else tuple(float(x) for x in raw.pivot)
    transform = None if raw.transform is None else tuple(float(x) for x in np.ravel(raw.transform))
    return replace(part, pivot=pivot, transform=transform)  # type: ignore[arg-type]
