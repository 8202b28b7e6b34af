"""A pose that becomes the rest pose."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, Literal

import numpy as np
from scipy.spatial import cKDTree

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.ride import frames_of
from tightseam.document.arrays import ArrayStore
from tightseam.document.fields import Array, Length
from tightseam.document.frames import rest_frames
from tightseam.document.make import make_point
from tightseam.document.model import Bone, Character, Part, PartDelta, Shape, Turn
from tightseam.document.walk import Field, rewritten
from tightseam.geometry.types import Floats

Joints = Literal["move", "stay"]
STILL = 1e-7  # of a matrix: nothing moves there, and what stands there stays to the bit


def resting_as(character: Character, store: ArrayStore, values: Mapping[str, float], joints: Joints = "move") -> Character:
    """The character whose neutral is what it was with controls at `values`. Where bones carry a vertex by C, its offsets d in shapes become
    the linear part of C times d, so that a shape on the new neutral is what it was on the pose; landmarks, pivots, lines and places go
    with the skin nearest to them. With joints that `move` bones stand and lie as they were posed, else as before. Weights stay."""
    evaluator = Evaluator(character, store)
    posed = evaluator.points(values).astype(float)
    carried = _carried(evaluator, posed)
    rows = evaluator.meshes.rows
    late = {b.part for b in character.bindings if b.bones_first}
    moved = rewritten(character, _Places(evaluator.meshes.rest.astype(float), carried))
    bones = character.bones
    if joints == "move":
        bones = tuple(_posed(b, m) for b, m in zip(bones, evaluator.posed_by, strict=True))

    def turned(shape: Shape) -> Shape:
        return replace(shape, deltas=tuple(d if d.part in late else _turned(d, store, carried[rows(d.part)]) for d in shape.deltas))

    return replace(
        moved,
        parts=tuple(replace(p, points=_stands(p, store, posed[rows(p.name)])) for p in moved.parts),
        shapes=tuple(map(turned, moved.shapes)),
        bones=bones,
    )


def _carried(evaluator: Evaluator, posed: Floats) -> Floats:
    """What carries each vertex, (N, 4, 4): bones, or the surface that it rides on."""
    count = len(posed)
    found = evaluator.rig.skinning.carried_by(np.arange(count), evaluator.posed_by)
    for ride in evaluator.rig.rides:
        own = slice(ride.first, ride.first + ride.count)
        turns, feet = frames_of(ride, posed)
        found[own, :3, :3] = turns
        found[own, :3, 3] = feet - np.einsum("nij,nj->ni", turns, ride.foot)
    return found


def _stands(part: Part, store: ArrayStore, posed: Floats) -> str:
    """Where the part is posed; vertices that stay, stay to the bit."""
    rest = np.asarray(store.get(part.points))
    moved = np.abs(posed - rest).max(axis=1) > STILL
    return store.put(np.where(moved[:, None], posed, rest).astype(rest.dtype)) if moved.any() else part.points


def _turned(delta: PartDelta, store: ArrayStore, carried: Floats) -> PartDelta:
    turns = carried[np.asarray(store.get(delta.vertices)), :3, :3]
    if np.abs(turns - np.eye(3)).max(initial=0) < STILL:
        return delta
    offsets = np.asarray(store.get(delta.offsets))
    return replace(delta, offsets=store.put(np.einsum("kij,kj->ki", turns, offsets).astype(offsets.dtype)))


def _posed(bone: Bone, matrix: Floats) -> Bone:
    """A bone where it was posed, turned as it was turned there."""
    if np.abs(matrix - np.eye(4)).max() < STILL:
        return bone
    frame = matrix @ rest_frames([bone])[0]
    axes: Turn = tuple(float(x) for x in frame[:3, :3].T.ravel())  # type: ignore[assignment]
    tip = matrix[:3, :3] @ np.array(bone.tip) + matrix[:3, 3]
    return replace(bone, base=make_point(frame[:3, 3]), tip=make_point(tip), axes=axes)


class _Places:
    """Takes places along with the vertex nearest to them."""

    def __init__(self, rest: Floats, carried: Floats) -> None:
        self._tree, self._carried = cKDTree(rest), carried

    def __call__(self, field: Field) -> Any:
        mark = field.mark(Length)
        if mark is None or not mark.place or any(isinstance(m, Array) for m in field.marks) or isinstance(field.records[-1], Bone):
            return field.value
        return self._moved(field.value)

    def _moved(self, value: Any) -> Any:
        if not value:
            return value
        if isinstance(value[0], tuple):
            return tuple(map(self._moved, value))
        _, nearest = self._tree.query(value)
        matrix = self._carried[nearest]
        if np.abs(matrix - np.eye(4)).max() < STILL:
            return value
        return make_point(matrix[:3, :3] @ np.array(value) + matrix[:3, 3])
