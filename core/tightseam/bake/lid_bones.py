"""Lids that bones drive, as joints and weights of the skeleton."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.lid_drivers import LidBones
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.lookup import binding as find_binding
from tightseam.document.make import dense_weights, make_influences, make_point
from tightseam.document.model import OTHER_SIDE, Binding, Bone, Character, Control, Lids, Link, Turn
from tightseam.geometry.types import Floats
from tightseam.weights.change import at_most
from tightseam.weights.rows import MOST_RECEIVED


def with_lids_as_bones(character: Character, store: ArrayStore) -> Character:
    """The character with two bones for each eye whose lids bones drive, the weights these carry, and links that turn them; those lids and
    their eye relief are gone. Alone, each control turns them as it closed the lids; together their turns add up. They are called as the
    lids are, or where a bone is called so already, turns of these."""
    boned = [pair for pair in character.lids if pair.driver.kind == "bones"]
    if not boned:
        return character
    evaluator = Evaluator(character, store)
    names = _names(boned, {b.name for b in character.bones})
    for pair, turning in zip(character.lids, evaluator.rig.stand_ins, strict=True):
        if isinstance(turning, LidBones):
            character = _with_bones(character, store, evaluator, pair, turning, names)
    eyes = {pair.eye for pair in boned}
    return replace(
        character,
        lids=tuple(x for x in character.lids if x.eye not in eyes),
        eye_reliefs=tuple(r for r in character.eye_reliefs if r.eye not in eyes),
    )


def _names(boned: Sequence[Lids], taken: set[str]) -> dict[str, str]:
    """A bone for each lid, by the lid's name, which ends with its side: alike on both sides, and none of those `taken`."""
    lids = [name for pair in boned for name in pair.names]
    ways = ("", "turn_", *(f"turn{k}_" for k in range(2, len(taken) + 2)))  # one more than there are names to be in the way
    every = ({n: f"{n[:-1]}{more}{n[-1]}" for n in lids} for more in ways)
    return next(own for own in every if taken.isdisjoint(own.values()))


def _with_bones(
    character: Character, store: ArrayStore, evaluator: Evaluator, pair: Lids, turning: LidBones, named: Mapping[str, str]
) -> Character:
    head = "head" if any(b.name == "head" for b in character.bones) else None
    sides, other = {x.side for x in character.lids if x.driver.kind == "bones"}, OTHER_SIDE.get(pair.side)
    forward = np.cross(turning.axis, np.array([0.0, 1.0, 0.0]))
    forward /= np.linalg.norm(forward)
    axes: Turn = tuple(np.stack([turning.axis, np.cross(forward, turning.axis), forward]).ravel().tolist())
    reach = 0.5 * float(np.linalg.norm(evaluator.meshes.rest[turning.rows] - turning.centre, axis=1).mean())
    bones = []
    for name in pair.names:
        twin = f"{name[:-1]}{other}" if other in sides else None
        label = f"{'Upper' if 'upper' in name else 'Lower'} lid {pair.side}"
        tip = make_point(turning.centre + reach * forward)
        bones.append(
            Bone(named[name], label, head, make_point(turning.centre), tip, pair.side, region="lids", twin=twin and named[twin], axes=axes)
        )
    character = replace(character, bones=(*character.bones, *bones))
    for part in character.parts:
        character = _carried(character, store, evaluator, [named[n] for n in pair.names], turning, part.name, head)
    degrees = dict(zip(pair.names, np.degrees(turning.angles).tolist(), strict=True))
    return replace(character, controls=tuple(_linked(c, degrees, named) for c in character.controls))


def _carried(
    character: Character, store: ArrayStore, evaluator: Evaluator, own: Sequence[str], turning: LidBones, part: str, head: str | None
) -> Character:
    """With what the lid bones carry of a part taken from what carries it in proportion, by as many influences as receivers take."""
    rows = evaluator.meshes.rows(part)
    here = (turning.rows >= rows.start) & (turning.rows < rows.stop) & (turning.weights > 0)
    if not here.any():
        return character
    count, names = rows.stop - rows.start, [b.name for b in character.bones]
    bound = find_binding(character, part) or Binding(part, "weighted", ())
    weights = dense_weights(store, bound.influences, names, count)
    if head is not None:
        weights[weights.sum(axis=1) == 0, names.index(head)] = 1.0  # what nothing carried stayed with the head at rest
    taken: Floats = np.zeros((count, 2))
    taken[turning.rows[here] - rows.start, turning.lid[here]] = turning.weights[here]
    weights *= 1 - taken.sum(axis=1, keepdims=True)
    for lid, name in enumerate(own):
        weights[:, names.index(name)] = taken[:, lid]
    return with_binding(character, Binding(part, "weighted", make_influences(store, names, at_most(weights, MOST_RECEIVED))))


def _linked(control: Control, degrees: Mapping[str, float], named: Mapping[str, str]) -> Control:
    """A control whose links to lids turn their bones."""
    links = (
        Link("bone", named[k.target], k.gain * degrees[k.target], "x") if k.kind == "lid" and k.target in degrees else k
        for k in control.links
    )
    return replace(control, links=tuple(links))
