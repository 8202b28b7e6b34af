"""Characters with one thing changed."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import replace

from tightseam.document.model import Binding, Character, Control


def with_binding(character: Character, binding: Binding) -> Character:
    """The character with this binding in place of the one its part had; bindings stand in the order of the parts."""
    order = {p.name: k for k, p in enumerate(character.parts)}
    others = [b for b in character.bindings if b.part != binding.part]
    return replace(character, bindings=tuple(sorted([*others, binding], key=lambda b: order[b.part])))


def without_lid_links(controls: Iterable[Control], kept: Collection[str] = ()) -> tuple[Control, ...]:
    """The controls without what they do to lids, but for those that are `kept`."""
    return tuple(replace(c, links=tuple(k for k in c.links if k.kind != "lid" or k.target in kept)) for c in controls)
