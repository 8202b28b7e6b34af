"""What of a body is joined to a head: parts without the head that they have, bones below the neck, and weights on these."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from tightseam.body.spine import Spine, find_spine
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import polygons
from tightseam.document.make import dense_weights, make_influences, make_point
from tightseam.document.model import Binding, Bone, Character, Part, Point
from tightseam.document.remesh import renumbered
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.polygons import Polygons
from tightseam.weights.change import at_most
from tightseam.weights.rows import MOST_INFLUENCES

OF_THE_HEAD = 0.5  # of a vertex' weight on head and face: from there on it belongs to the head that is replaced
FARTHEST_NECK = 20.0  # mm between the two necks that need a look


@dataclass(frozen=True)
class BodyToJoin:
    """Parts, bones and bindings that come along, the bone `under` which our root hangs, by how much all of ours is moved (cm), and in
    sentences what was done and needs a look."""

    parts: tuple[Part, ...]
    bones: tuple[Bone, ...]
    bindings: tuple[Binding, ...]
    under: str
    shift: Point
    notes: tuple[str, ...]


def body_for(character: Character, body: Character, store: ArrayStore) -> BodyToJoin:
    """What a character gets of a body; the arrays of both are in `store`. Our head bone goes where that of the body begins. BadRequest
    where one of them has no head bone, or the body nothing to hang a head on."""
    ours = next((b for b in character.bones if b.name == "head"), None)
    if ours is None:
        raise BadRequest("This head has no head bone yet. Build its bones first.")
    if any(p.kind == "body" for p in character.parts):
        raise BadRequest("This head stands on a body already.")
    if not body.bones:
        raise BadRequest("This body has no bones.")
    spine = find_spine(body.bones)
    if spine.under is None:
        raise BadRequest("The head of this skeleton hangs on nothing but its neck: there is no body below.")
    gone = {b.name for b in spine.replaced}
    taken = {b.name for b in character.bones}
    names = {b.name: free_name(b.name, taken) for b in body.bones if b.name not in gone}
    bones = tuple(
        replace(b, name=names[b.name], parent=b.parent and names[b.parent], twin=names.get(b.twin or ""), made_as=None)
        for b in body.bones
        if b.name in names
    )
    shift = make_point(np.array(spine.head.base) - np.array(ours.base))
    parts, bindings, notes = _parts(character, body, store, spine, names)
    return BodyToJoin(parts, bones, bindings, names[spine.under.name], shift, (*notes, *_neck_notes(character, spine, shift)))


def _parts(
    character: Character, body: Character, store: ArrayStore, spine: Spine, names: Mapping[str, str]
) -> tuple[tuple[Part, ...], tuple[Binding, ...], list[str]]:
    taken = {p.name for p in character.parts}
    parts, bindings, notes = [], [], []
    every = [b.name for b in body.bones]
    above = [every.index(b.name) for b in (spine.head, *spine.face)]
    for part in body.parts:
        bound = find_binding(body, part.name)
        weights = dense_weights(store, bound.influences, every, part.vertex_count) if bound else np.zeros((part.vertex_count, len(every)))
        cut, kept = _without_head(body, store, part, weights[:, above].sum(axis=1) > OF_THE_HEAD)
        if cut is None:
            notes.append(f"{part_label(part.name)} belongs to the head of the body, and is left out.")
            continue
        if cut.vertex_count < part.vertex_count:
            notes.append(f"{part.vertex_count - cut.vertex_count} vertices of the head that {part_label(part.name)} had are left out.")
        name = free_name(part.name, taken)
        taken.add(name)
        parts.append(replace(cut, name=name, kind="body" if part.kind in ("skin", "other", "body") else part.kind, sets={}))
        bindings.append(Binding(name, "weighted", make_influences(store, list(names.values()), _below(weights[kept], every, spine, names))))
    return tuple(parts), tuple(bindings), notes


def _below(weights: np.ndarray, every: list[str], spine: Spine, names: Mapping[str, str]) -> np.ndarray:
    """Weights over the bones that are left: what head and neck of the body carried, its chest carries, for ours is another neck."""
    assert spine.under is not None
    left = weights[:, [every.index(name) for name in names]].copy()
    left[:, list(names).index(spine.under.name)] += weights[:, [every.index(b.name) for b in spine.replaced]].sum(axis=1)
    left[left.sum(axis=1) == 0, list(names).index(spine.under.name)] = 1.0
    return at_most(left, MOST_INFLUENCES)


def _without_head(body: Character, store: ArrayStore, part: Part, of_head: np.ndarray) -> tuple[Part | None, np.ndarray]:
    """A part without the polygons that are wholly of the head, and which vertices it keeps; None where nothing is left."""
    faces = polygons(store, part)
    lists = faces.lists()
    left = [k for k, polygon in enumerate(lists) if not of_head[polygon].all()]
    if len(left) == len(lists):
        return part, np.arange(part.vertex_count)
    if not left:
        return None, np.zeros(0, int)
    kept = np.unique(np.concatenate([lists[k] for k in left]))
    number = np.full(part.vertex_count, -1)
    number[kept] = np.arange(len(kept))
    fewer = Polygons.from_lists([number[lists[k]].tolist() for k in left])
    alone = Character(body.about, (part,))
    points = np.asarray(store.get(part.points))[kept]
    return renumbered(alone, store, part, number, kept, points, fewer, np.array(left)).parts[0], kept


def _neck_notes(character: Character, spine: Spine, shift: Point) -> list[str]:
    root = next((b for b in character.bones if b.parent is None), None)
    if root is None or not spine.neck:
        return []
    off = CM_TO_MM * float(np.linalg.norm(np.array(root.base) + shift - spine.neck[0].base))
    said = f"Our neck begins {off:.0f} mm from where that of the body did."
    return [f"{said} Look at the collar." if off > FARTHEST_NECK else said]
