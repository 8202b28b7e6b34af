"""Characters with one thing changed."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import replace
from typing import TypeVar

from tightseam.document.model import Binding, Character, Control, Link, LinkKind, Relief, Shape

T = TypeVar("T")


def with_binding(character: Character, binding: Binding) -> Character:
    """The character with this binding in place of the one its part had; bindings stand in the order of the parts."""
    order = {p.name: k for k, p in enumerate(character.parts)}
    others = [b for b in character.bindings if b.part != binding.part]
    return replace(character, bindings=tuple(sorted([*others, binding], key=lambda b: order[b.part])))


def moved(things: tuple[T, ...], thing: T, before: T | None) -> tuple[T, ...]:
    """The things with one of them standing before another, or at the end; before itself it goes to the end as well."""
    others = [x for x in things if x is not thing]
    at = len(others) if before is None or before is thing else others.index(before)
    return (*others[:at], thing, *others[at:])


def with_shape(character: Character, shape: Shape) -> Character:
    """The character with this shape in place of the one of its name."""
    return replace(character, shapes=tuple(shape if s.name == shape.name else s for s in character.shapes))


def at_rest_by_themselves(character: Character) -> Character:
    """The character whose correctives come in only where something asks for them: for poses in which their drivers mean something else."""
    if all(s.activation is None for s in character.shapes):
        return character
    return replace(character, shapes=tuple(replace(s, activation=None) for s in character.shapes))


def with_relief(character: Character, relief: Relief) -> Character:
    """The character with this relief in place of the one of its name."""
    return replace(character, reliefs=tuple(relief if r.name == relief.name else r for r in character.reliefs))


def with_control(character: Character, control: Control) -> Character:
    """The character with this control in place of the one of its name."""
    return replace(character, controls=tuple(control if c.name == control.name else c for c in character.controls))


def with_link(character: Character, name: str, link: Link | None, of: Link) -> Character:
    """The character with one `link` of a control in place of what it did to the target of another, `of`; without it where it is None."""
    same = (of.kind, of.target, of.axis, of.by)

    def linked(control: Control) -> Control:
        kept = tuple(n for n in control.links if (n.kind, n.target, n.axis, n.by) != same)
        return replace(control, links=kept if link is None else (*kept, link))

    return replace(character, controls=tuple(linked(c) if c.name == name else c for c in character.controls))


def without_lid_links(controls: Iterable[Control], kept: Collection[str] = ()) -> tuple[Control, ...]:
    """The controls without what they do to lids, but for those that are `kept`."""
    return with_links_to(controls, {"lid": kept})


def with_links_to(controls: Iterable[Control], kept: Mapping[LinkKind, Collection[str]]) -> tuple[Control, ...]:
    """The controls with only those links of the given kinds whose targets are `kept`."""
    return tuple(replace(c, links=tuple(k for k in c.links if k.kind not in kept or k.target in kept[k.kind])) for c in controls)
