"""What our GLB carries beside what glTF has words for, so that it comes back whole."""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import Any

from tightseam.bake.rides import own_deltas
from tightseam.document import older
from tightseam.document.arrays import ArrayHash, ArrayStore
from tightseam.document.errors import BadDocument
from tightseam.document.model import Character, Shape
from tightseam.document.older import named_as_today
from tightseam.document.sections import dump_section
from tightseam.exchange.glb_container import GlbReader

KEY = "tightSeam"
VERSION = RELIEFS_RENAMED = 3
PLAIN_SECTIONS = ("about", "landmarks", "skeleton", "bones", "controls", "seams", "poses", "checkin", "plan", "mix", "intended")
REGION_ARRAYS = {"vertices": "i4", "region": "f4"}
LIP_ARRAYS = {"upper": "i4", "lower": "i4", "vertices": "i4", "share": "f4", "place": "f4", "corner": "f4"}
LID_ARRAYS = {"upper_margin": "i4", "lower_margin": "i4", "vertices": "i4", "upper": "u1", "share": "f4"}


def make_extras(character: Character, store: ArrayStore) -> dict[str, Any]:
    """Sections without arrays as they are; parts with polygons and vertex sets; shapes and bindings by name; lids, lips,
    reliefs and caps."""

    def values(key: ArrayHash) -> list[Any]:
        return list(store.get(key).tolist())

    return {
        "version": VERSION,
        "sections": {name: json.loads(dump_section(character, name)) for name in PLAIN_SECTIONS},
        "parts": [
            {
                "name": p.name, "kind": p.kind, "side": p.side, "sizes": values(p.sizes), "corners": values(p.corners),
                "sets": {name: values(key) for name, key in p.sets.items()},
                "colours": p.colours and values(p.colours), "faceColours": p.face_colours and values(p.face_colours),
                "delivered": p.delivered and asdict(p.delivered),
                "source": p.source and values(p.source), "split": p.split and values(p.split),
                "transform": p.transform, "pivot": p.pivot,
            }
            for p in character.parts
        ],
        "bindings": [
            {
                "part": b.part, "carrier": b.carrier, "ride": b.ride and asdict(b.ride) | {"roots": values(b.ride.roots)},
                "dual": b.dual and values(b.dual),
            }
            for b in character.bindings
        ],
        "ridden": [
            {"shape": name, "part": d.part, "vertices": values(d.vertices), "offsets": values(d.offsets)}
            for name, d in own_deltas(character)
        ],
        "shapes": [_shape(s) for s in character.shapes],
        "eyeReliefs": [
            {
                "eye": r.eye, "skin": r.skin, "vertices": values(r.vertices), "amount": values(r.amount),
                "clearance": values(r.clearance), "settle": values(r.settle),
                "followers": {name: values(key) for name, key in r.followers}, "swell": r.swell and values(r.swell),
            }
            for r in character.eye_reliefs
        ],
        "lids": [
            asdict(x)
            | {name: values(getattr(x, name)) for name in LID_ARRAYS}
            | {"lashes": {name: values(key) for name, key in x.lashes}}
            for x in character.lids
        ],
        "reliefs": [asdict(r) | {n: values(getattr(r, n)) for n in REGION_ARRAYS} for r in character.reliefs],
        "caps": [asdict(c) | {n: values(getattr(c, n)) for n in REGION_ARRAYS} for c in character.caps],
        "lips": [asdict(x) | {n: values(getattr(x, n)) for n in LIP_ARRAYS} for x in character.lips],
        "selections": [{"name": s.name, "part": s.part, "vertices": values(s.vertices)} for s in character.selections],
    }  # fmt: skip


def _shape(shape: Shape) -> dict[str, Any]:
    plain = {"name": shape.name, "label": shape.label, "parts": [d.part for d in shape.deltas]}
    return plain | ({"activation": asdict(shape.activation)} if shape.activation else {})


def is_ours(data: bytes) -> bool:
    """Does a GLB carry our extras? False for anything that cannot be read."""
    try:
        extras = GlbReader(data).tree.get("extras")
    except BadDocument:
        return False
    return isinstance(extras, dict) and isinstance(extras.get(KEY), dict)


def find_extras(tree: dict[str, Any]) -> dict[str, Any]:
    """Our extras of a GLB's tree, in the names of today; BadDocument where it was not written by this program."""
    extras = tree.get("extras")
    found = extras.get(KEY) if isinstance(extras, dict) else None
    if not isinstance(found, dict):
        raise BadDocument("This GLB was not written by Tight Seam.")
    if found.get("version") not in range(1, VERSION + 1):
        raise BadDocument(f"This GLB is of a version this program does not read ({found.get('version')}).")
    return found if found["version"] >= RELIEFS_RENAMED else named_as_today(found, older.GLB_EXTRAS)
