"""Characters with other bones: what refers to a bone that is gone goes to the one it hung on, or goes with it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.channels import channels, own_spans
from tightseam.document.model import Binding, Bone, Character, Control, Influence, Seam


def in_order(bones: Sequence[Bone]) -> tuple[Bone, ...]:
    """Parents before children, otherwise as they stand; a bone whose parent is not there becomes a root."""
    names = {b.name for b in bones}
    waiting = [b if b.parent in names else replace(b, parent=None) for b in bones]
    placed: list[Bone] = []
    done: set[str | None] = {None}
    while waiting:
        ready = [b for b in waiting if b.parent in done] or waiting[:1]  # a ring cannot come from in here; it is cut all the same
        for bone in ready:
            placed.append(bone if bone.parent in done else replace(bone, parent=None))
            done.add(bone.name)
        waiting = [b for b in waiting if b.name not in done]
    return tuple(placed)


def with_bones(character: Character, bones: Sequence[Bone], store: ArrayStore) -> Character:
    """The character with these bones in place of its own.

    Weights of a bone that is gone, and what hangs on it, go to the nearest bone above it that stays, so that totals stay as they
    were; where a bone stays, its weights stay to the bit. Links, seams and pose values that speak of a bone that is gone go with it.
    """
    kept = {b.name for b in bones}
    heirs = {b.name: _heir(b, character.bones, kept) for b in character.bones if b.name not in kept}
    left = [replace(b, parent=heirs.get(b.parent, b.parent) if b.parent else None, twin=b.twin if b.twin in kept else None) for b in bones]
    changed = replace(
        character,
        bones=in_order(left),
        bindings=tuple(_inherited(b, heirs, store) for b in character.bindings),
        controls=_still_linked(character.controls, kept),
        seams=_still_expected(character.seams, kept),
    )
    return without_lost_values(changed)


def _still_linked(controls: Sequence[Control], kept: set[str]) -> tuple[Control, ...]:
    """Controls without their links to bones that are gone; one that had no other goes as well."""
    left = [replace(c, links=tuple(n for n in c.links if n.kind != "bone" or n.target in kept)) for c in controls]
    return tuple(now for now, before in zip(left, controls, strict=True) if now.links or not before.links)


def _still_expected(seams: Sequence[Seam], kept: set[str]) -> tuple[Seam, ...]:
    left = [replace(s, expected=tuple(n for n in s.expected if n in kept)) for s in seams]
    return tuple(now for now, before in zip(left, seams, strict=True) if now.expected or not before.expected)


def _heir(bone: Bone, bones: Sequence[Bone], kept: set[str]) -> str | None:
    parents = {b.name: b.parent for b in bones}
    above = bone.parent
    while above is not None and above not in kept:
        above = parents[above]
    return above


def _inherited(binding: Binding, heirs: Mapping[str, str | None], store: ArrayStore) -> Binding:
    if not any(i.bone in heirs for i in binding.influences):
        return binding
    found: dict[str, Influence] = {i.bone: i for i in binding.influences if i.bone not in heirs}
    for lost in (i for i in binding.influences if i.bone in heirs):
        heir = heirs[lost.bone]
        if heir is not None:
            found[heir] = replace(lost, bone=heir) if heir not in found else _added(found[heir], lost, store)
    return replace(binding, influences=tuple(found.values()))


def _added(to: Influence, lost: Influence, store: ArrayStore) -> Influence:
    vertices = np.concatenate([np.asarray(store.get(i.vertices)) for i in (to, lost)])
    weights = np.concatenate([np.asarray(store.get(i.weights)) for i in (to, lost)])
    unique, at = np.unique(vertices, return_inverse=True)
    total = np.bincount(at, weights).astype(np.float32)
    return Influence(to.bone, store.put(unique.astype(np.int32)), store.put(total))


def without_lost_values(character: Character) -> Character:
    """Poses hold only values of controls and channels that are there, within what the channels allow."""
    own = own_spans(character)
    named = {c.name for c in character.controls}

    def kept(values: Mapping[str, float]) -> dict[str, float]:
        inside = {n: float(np.clip(v, *own[n])) if n in own and n not in named else v for n, v in values.items()}
        return {n: v for n, v in inside.items() if n in named or n in own}

    poses = tuple(p if kept(p.values) == p.values else replace(p, values=kept(p.values)) for p in character.poses)
    return replace(character, poses=poses)


def renamed(character: Character, names: Mapping[str, str]) -> Character:
    """The character with bones under other names (old -> new), wherever the document speaks of them; names may be exchanged."""

    def named(name: str) -> str:
        return names.get(name, name)

    values = {n: named(c.bone) + n[len(c.bone) :] for n, c in channels(character.bones).items()}
    return replace(
        character,
        bones=tuple(
            replace(
                b,
                name=named(b.name),
                parent=b.parent and named(b.parent),
                twin=b.twin and named(b.twin),
                made_as=_made_as(b, names[b.name]) if b.name in names else b.made_as,
            )
            for b in character.bones
        ),
        bindings=tuple(replace(b, influences=tuple(replace(i, bone=named(i.bone)) for i in b.influences)) for b in character.bindings),
        controls=tuple(
            replace(c, links=tuple(replace(n, target=named(n.target)) if n.kind == "bone" else n for n in c.links))
            for c in character.controls
        ),
        seams=tuple(replace(s, expected=tuple(named(n) for n in s.expected)) for s in character.seams),
        lips=tuple(replace(x, upper_bone=named(x.upper_bone), lower_bone=named(x.lower_bone)) for x in character.lips),
        poses=tuple(replace(p, values={values.get(n, n): v for n, v in p.values.items()}) for p in character.poses),
    )


def _made_as(bone: Bone, new: str) -> str | None:
    first = bone.made_as or bone.name
    return None if first == new else first
