"""Characters with other controls: poses, links and the face plan that speak of one go with it."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import replace

from tightseam.document.change import with_links_to
from tightseam.document.change_bones import without_lost_values
from tightseam.document.model import Character, Control, Link, Pad


def with_control(character: Character, control: Control) -> Character:
    """The character with this control in place of the one of its name."""
    return replace(character, controls=tuple(control if c.name == control.name else c for c in character.controls))


def without_controls(character: Character, names: Collection[str]) -> Character:
    left = tuple(c for c in character.controls if c.name not in names)
    linked = with_links_to(left, {"control": {c.name for c in left}})
    pads = (_without(p, names) for p in character.plan)
    return without_lost_values(replace(character, controls=linked, plan=tuple(p for p in pads if p is not None)))


def with_controls_renamed(character: Character, names: Mapping[str, str]) -> Character:
    """The character with controls under other names (old -> new)."""

    def named(name: str) -> str:
        return names.get(name, name)

    def linked(link: Link) -> Link:
        return replace(link, target=named(link.target)) if link.kind == "control" else link

    return replace(
        character,
        controls=tuple(replace(c, name=named(c.name), links=tuple(map(linked, c.links))) for c in character.controls),
        poses=tuple(replace(p, values={named(n): v for n, v in p.values.items()}) for p in character.poses),
        plan=tuple(replace(p, x=p.x and named(p.x), y=p.y and named(p.y)) for p in character.plan),
    )


def _without(pad: Pad, names: Collection[str]) -> Pad | None:
    x, y = (None if c in names else c for c in (pad.x, pad.y))
    return replace(pad, x=x, y=y) if x or y else None
