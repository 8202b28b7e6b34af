"""Which part of the face a control moves, by what it drives."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.model import BoneRegion, Character, Control, Link

ControlRegion = Literal["jaw", "mouth", "eyes", "brows", "tongue", "head", "other"]

OF_BONES: Mapping[BoneRegion, ControlRegion] = {
    "jaw": "jaw", "teeth": "jaw", "mouth": "mouth", "cheeks": "mouth", "nose": "mouth", "eyes": "eyes", "lids": "eyes", "brows": "brows",
    "tongue": "tongue", "head": "head", "neck": "head", "ears": "head",
}  # fmt: skip


@derived("parts", "landmarks", "bones", "shapes", "controls")
def control_regions(character: Character, store: ArrayStore) -> dict[str, ControlRegion]:
    """The region of each control, by its name: that of the first thing it drives which has one. Shapes lie where they move most."""
    shapes: dict[str, ControlRegion] = {}
    return {c.name: _region(c, character, store, shapes, set()) for c in character.controls}


def _region(control: Control, character: Character, store: ArrayStore, shapes: dict[str, ControlRegion], seen: set[str]) -> ControlRegion:
    for link in control.links:
        found = _of_link(link, character, store, shapes, seen | {control.name})
        if found != "other":
            return found
    return "other"


def _of_link(link: Link, character: Character, store: ArrayStore, shapes: dict[str, ControlRegion], seen: set[str]) -> ControlRegion:
    if link.kind == "lid":
        return "eyes"
    if link.kind in ("seal", "corner"):
        return "jaw"
    if link.kind == "bone":
        return next((OF_BONES.get(b.region, "other") for b in character.bones if b.name == link.target), "other")
    if link.kind == "control" and link.target not in seen:
        driven = next((c for c in character.controls if c.name == link.target), None)
        return _region(driven, character, store, shapes, seen) if driven else "other"
    if link.kind == "shape":
        if link.target not in shapes:
            shapes[link.target] = _of_shape(link.target, character, store)
        return shapes[link.target]
    return "other"


def _of_shape(name: str, character: Character, store: ArrayStore) -> ControlRegion:
    """Above the eyes brows, below the nose mouth, eyes between; by the middle of what it moves, each vertex as far as it goes."""
    marks = {m.name: m.point[1] for m in character.landmarks}
    shape = next((s for s in character.shapes if s.name == name), None)
    levels = [marks.get(f"lid_fold_upper_{side}") for side in "LR"]
    if shape is None or "nose_base" not in marks or any(y is None for y in levels):
        return "other"
    rest = {p.name: p for p in character.parts}
    heights, goes = [np.zeros(0)], [np.zeros(0)]
    for delta in shape.deltas:
        points = np.asarray(store.get(rest[delta.part].points))
        heights.append(points[np.asarray(store.get(delta.vertices)), 1])
        goes.append(np.linalg.norm(np.asarray(store.get(delta.offsets)), axis=1))
    weight = np.concatenate(goes)
    if not weight.any():
        return "other"
    middle = float(np.concatenate(heights) @ weight / weight.sum())
    return "brows" if middle > max(y for y in levels if y is not None) else "mouth" if middle < marks["nose_base"] else "eyes"
