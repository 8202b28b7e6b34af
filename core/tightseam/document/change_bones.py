"""Characters with other bones: what refers to a bone that is gone goes to the one it hung on, or goes with it."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.channels import channels
from tightseam.document.labels import part_label
from tightseam.document.model import Binding, Bone, Character, Influence
from tightseam.document.removal import settled, without

MOST_LISTED = 4


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
    were; where a bone stays, its weights stay to the bit. What else speaks of a bone that is gone goes with it, and so does a control
    that drove nothing else.
    """
    kept = {b.name for b in bones}
    heirs = {b.name: _heir(b, character.bones, kept) for b in character.bones if b.name not in kept}
    left = [replace(b, parent=heirs.get(b.parent, b.parent) if b.parent else None) for b in bones]
    inherited = tuple(_inherited(b, heirs, store) for b in character.bindings)
    changed = settled(replace(character, bones=in_order(left), bindings=inherited))
    driving = {c.name for c in character.controls if c.links}
    return without(changed, "control", {c.name for c in changed.controls if not c.links and c.name in driving})


def hanging_on(character: Character, names: Collection[str]) -> tuple[str, ...]:
    """What goes elsewhere or is lost with some bones, in sentences; nothing where nothing hangs on them."""
    kept = {b.name for b in character.bones} - set(names)
    labels = {b.name: b.label for b in character.bones}
    lost = {b.name: labels.get(_heir(b, character.bones, kept) or "", "nothing") for b in character.bones if b.name in names}
    found: list[str] = []
    for bone, heir in lost.items():
        below = [b.label for b in character.bones if b.parent == bone and b.name in kept]
        parts = [part_label(b.part) for b in character.bindings if any(i.bone == bone for i in b.influences)]
        found += [f"{_listed(below)} {'hangs' if len(below) == 1 else 'hang'} on {labels[bone]}, and will on {heir}."] if below else []
        found += [f"{labels[bone]} carries some of {_listed(parts)}; {heir} will instead."] if parts else []
    driving = [c.label for c in character.controls if any((n.kind, n.target in lost) == ("bone", True) for n in c.links)]
    seams = [s.label for s in character.seams if set(s.expected) & lost.keys()]
    own = {n for n, c in channels(character.bones).items() if c.bone in lost}
    poses = [p.label for p in character.poses if own & p.values.keys()]
    if driving:
        found.append(f"{_listed(driving)} no longer {'drives' if len(driving) == 1 else 'drive'} it; what drives nothing else goes.")
    if seams:
        found.append(f"{_listed(seams)} {'is' if len(seams) == 1 else 'are'} no longer measured by it.")
    if poses:
        found.append(f"{_listed(poses)} {'loses what it asks' if len(poses) == 1 else 'lose what they ask'} of it.")
    return tuple(found)


def _listed(things: Sequence[str]) -> str:
    """ "A", "A and B", "A, B, C and 4 more"."""
    first, more = list(things[:MOST_LISTED]), len(things) - MOST_LISTED
    if more > 0:
        return f"{', '.join(first)} and {more} more"
    return " and ".join([", ".join(first[:-1]), first[-1]]) if len(first) > 1 else "".join(first)


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
