"""Faults in the shapes of the demo cast, planted by code that says what it plants."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import cKDTree

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points
from tightseam.document.model import Character, Control, Link, Shape
from tightseam.document.poses import rest_values
from tightseam.geometry.types import Floats
from tightseam.shapes.checks import ShapeCheck
from tightseam.shapes.offsets import Offsets, made_shape
from tightseam.shapes.posed import BonePose
from tightseam.shapes.starter import starter_units
from tightseam.shapes.taken_along import taken_along

STRAYS, STRAY = 3, 0.4  # vertices of the crown that a shape moves, by so many cm
SLIP = 0.3  # cm off the middle about which the right frown was flipped
WIDE = 14.0  # degrees that Hob's mouth opens twice: by the bone, and by a shape


@dataclass(frozen=True)
class PlantedShape:
    """What is wrong with which shape."""

    check: ShapeCheck
    shape: str


def plant_in_shapes(character: Character, store: ArrayStore) -> tuple[Character, tuple[PlantedShape, ...]]:
    """Hob's further shapes, each with a fault or in a name that the house does not use, and a control that opens his mouth twice."""
    units = {name: offsets for name, _, offsets in starter_units(character, store, ["AU15", "AU22", "AU33"])}
    skin = find_part(character, "skin")
    frown = units["AU15_L"]["skin"]
    found: dict[str, Offsets] = {
        "full_cheek_left": {"skin": _with_strays(character, store, units["AU33_L"]["skin"])},
        "full_cheek_right": {"skin": units["AU33_R"]["skin"]},
        "low_corner_left": {"skin": frown},
        "low_corner_right": {"skin": _flipped_beside_the_middle(points(character, store, "skin"), frown)},
        "lips_round": {"skin": units["AU22"]["skin"]},
        "nose_curl_L": {},
        "tongue_show": {"tongue": np.tile([0.0, 0.1, 0.9], (find_part(character, "tongue").vertex_count, 1))},
        "mouth_wide": _opened_skin(character, store),
    }
    for name in (
        "full_cheek_left",
        "full_cheek_right",
        "low_corner_left",
        "low_corner_right",
        "mouth_wide",
    ):  # all but the round lips take the moustache along
        found[name]["whiskers"] = taken_along(character, store, find_part(character, "whiskers"), skin, found[name]["skin"])
    made: list[Shape] = [made_shape(store, name, name, offsets) for name, offsets in found.items()]
    wide = Control("mouth_wide", "Mouth wide", 0, 1, 0, (Link("bone", "jaw", WIDE, "x"), Link("shape", "mouth_wide", 1)))
    bindings = tuple(replace(b, bones_first=True) if b.part == "tongue" else b for b in character.bindings)
    planted = (
        PlantedShape("stray", "full_cheek_left"),
        PlantedShape("twin", "low_corner_right"),
        PlantedShape("left_behind", "lips_round"),
        PlantedShape("empty", "nose_curl_L"),
        PlantedShape("order", "tongue_show"),
        PlantedShape("twice", "mouth_wide"),
    )
    changed = replace(character, shapes=(*character.shapes, *made), bindings=bindings, controls=(*character.controls, wide))
    return changed, planted


def _with_strays(character: Character, store: ArrayStore, offsets: Floats) -> Floats:
    """The offsets (N, 3) with some vertices of the crown moved by themselves."""
    changed = offsets.copy()
    highest = points(character, store, "skin")[:, 1].argsort()[-1 - 12 * STRAYS :: 12][:STRAYS]
    changed[highest] += [0, STRAY, 0]
    return changed


def _flipped_beside_the_middle(rest: Floats, offsets: Floats) -> Floats:
    """The mirror image of offsets (N, 3) by the nearest vertex beyond a plane that stands beside the middle."""
    nearest = cKDTree(rest).query(rest * [-1, 1, 1] + [SLIP, 0, 0])[1]
    return np.asarray(offsets[nearest] * [-1, 1, 1])


def _opened_skin(character: Character, store: ArrayStore) -> Offsets:
    """What opening the jaw does to the skin, without teeth and tongue."""
    pose = BonePose(Evaluator(character, store), store, rest_values(character) | {"jaw.turn_x": WIDE})
    return {"skin": pose.baked()["skin"]}
