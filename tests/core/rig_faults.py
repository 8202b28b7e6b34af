"""Random faults of rigs, planted through the edits that a person has."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from tightseam.document.errors import BadRequest
from tightseam.edits.registry import make_step
from tightseam.geometry.adjacency import neighbours
from tightseam.lids.maps import margins_of
from tightseam.lids.tune import lids_of

from tests.head import Head, after

FOLLOWS = ("teeth_lower", "teeth_upper", "tongue", "eye_L", "eye_R", "lash_upper_L", "lash_lower_R")


def planted(head: Head, rng: np.random.Generator) -> tuple[str, Head]:
    """What was planted, in words, and the head with it. What an edit refuses is tried again with other dice."""
    while True:
        fault = FAULTS[int(rng.integers(len(FAULTS)))]
        edit, params = fault(head, rng)
        try:
            return f"{edit} {params}"[:160], after(head, make_step(edit, params).params)
        except BadRequest:
            continue


def _patch(head: Head, part: str, rng: np.random.Generator, among: np.ndarray | None = None) -> list[int]:
    """A vertex, one of some, with up to three rings about it."""
    count = len(head.rest(part))
    chosen = np.zeros(count)
    chosen[rng.choice(np.arange(count) if among is None else among)] = 1
    beside = neighbours(head.polygons(part), count)
    for _ in range(int(rng.integers(0, 4))):
        chosen = chosen + beside @ chosen
    return np.flatnonzero(chosen).tolist()


def _carried(head: Head, rng: np.random.Generator):
    """A part by a wrong bone."""
    parts = [p for p in FOLLOWS if any(q.name == p for q in head.character.parts)]
    bones = [b.name for b in head.character.bones if b.role == "deform"]
    return "binding.set_carrier", {"part": str(rng.choice(parts)), "carrier": "rigid", "bones": [str(rng.choice(bones))]}


def _weighed(head: Head, rng: np.random.Generator):
    """A patch of skin by a bone from anywhere."""
    bones = [b.name for b in head.character.bones if b.role == "deform"]
    return "weights.set", {
        "part": "skin",
        "vertices": _patch(head, "skin", rng),
        "bone": str(rng.choice(bones)),
        "value": float(rng.uniform(0.3, 1)),
    }


def _lid(which: str) -> Callable:
    def fault(head: Head, rng: np.random.Generator):
        side = str(rng.choice(["L", "R"]))
        margin = np.concatenate(margins_of(head.store, lids_of(head.character, side)))
        vertices = _patch(head, "skin", rng, margin)
        return "lids.set_map", {"side": side, "map": which, "vertices": vertices, "value": float(rng.uniform(0, 0.9))}

    return fault


def _strayed(head: Head, rng: np.random.Generator):
    """Vertices that a shape moves where they should not."""
    shape = str(rng.choice([s.name for s in head.character.shapes]))
    ways = {way: float(rng.uniform(-4, 4)) for way in ("left", "up", "forward")}
    return "shape.offset", {"name": shape, "part": "skin", "vertices": _patch(head, "skin", rng), **ways}


def _swollen(head: Head, rng: np.random.Generator):
    """A relief that nobody asked for, or the reverse of one."""
    return "relief.preset", {"preset": str(rng.choice(["cheekbones", "chin"])), "cm": float(rng.uniform(-1, 1))}


def _opened(head: Head, rng: np.random.Generator):
    """A jaw that goes otherwise."""
    return "jaw.set_movement", {"opens": float(rng.uniform(0, 45)), "slides": float(rng.uniform(-0.4, 0.6))}


def _scaled(head: Head, rng: np.random.Generator):
    """A shape that goes too far."""
    return "shape.scale", {"name": str(rng.choice([s.name for s in head.character.shapes])), "by": float(rng.uniform(1.5, 3))}


FAULTS = (_carried, _weighed, _weighed, _lid("share"), _lid("eye_relief"), _strayed, _swollen, _opened, _scaled)
