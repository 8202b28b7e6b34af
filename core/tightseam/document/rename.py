"""Parts and shapes under other names, wherever the document speaks of them."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import replace

from tightseam.document.change import with_links_to
from tightseam.document.change_bones import without_lost_values
from tightseam.document.channels import strength_of
from tightseam.document.model import Character, Link, LinkKind


def with_part_renamed(character: Character, old: str, new: str) -> Character:
    def named(name: str) -> str:
        return new if name == old else name

    return replace(
        character,
        parts=tuple(replace(p, name=named(p.name)) for p in character.parts),
        bindings=tuple(replace(b, part=named(b.part), ride=b.ride and replace(b.ride, on=named(b.ride.on))) for b in character.bindings),
        shapes=tuple(replace(s, deltas=tuple(replace(d, part=named(d.part)) for d in s.deltas)) for s in character.shapes),
        reliefs=tuple(
            replace(r, eye=named(r.eye), skin=named(r.skin), followers=tuple((named(n), roots) for n, roots in r.followers))
            for r in character.reliefs
        ),
        lids=tuple(
            replace(x, eye=named(x.eye), skin=named(x.skin), lashes=tuple((named(n), roots) for n, roots in x.lashes))
            for x in character.lids
        ),
        surface_reliefs=tuple(replace(r, part=named(r.part)) for r in character.surface_reliefs),
        lips=tuple(replace(x, skin=named(x.skin)) for x in character.lips),
        seams=tuple(replace(s, probe=named(s.probe), solid=s.solid and named(s.solid)) for s in character.seams),
        selections=tuple(replace(s, part=named(s.part)) for s in character.selections),
    )


def without_part(character: Character, name: str) -> Character:
    """The character without a part, and without the bindings, deltas, reliefs, lids, lips, seams and selections that need it."""
    lids = tuple(replace(x, lashes=tuple(f for f in x.lashes if f[0] != name)) for x in character.lids if name not in (x.eye, x.skin))
    lips = tuple(x for x in character.lips if x.skin != name)
    reliefs = tuple(r for r in character.surface_reliefs if r.part != name)
    left = {r.name for r in reliefs}
    reliefs = tuple(replace(r, twin=r.twin if r.twin in left else None) for r in reliefs)
    kept: dict[LinkKind, set[str]] = {"lid": {n for x in lids for n in x.names}, "relief": left}
    kept |= {} if lips else {"seal": set(), "corner": set()}
    return replace(
        character,
        parts=tuple(p for p in character.parts if p.name != name),
        bindings=tuple(b for b in character.bindings if b.part != name and not (b.ride and b.ride.on == name)),
        shapes=tuple(replace(s, deltas=tuple(d for d in s.deltas if d.part != name)) for s in character.shapes),
        reliefs=tuple(
            replace(r, followers=tuple(f for f in r.followers if f[0] != name)) for r in character.reliefs if name not in (r.eye, r.skin)
        ),
        lids=lids,
        surface_reliefs=reliefs,
        lips=lips,
        controls=with_links_to(character.controls, kept),
        seams=tuple(s for s in character.seams if name not in (s.probe, s.solid)),
        selections=tuple(s for s in character.selections if s.part != name),
    )


def with_shapes_renamed(character: Character, names: Mapping[str, str]) -> Character:
    """The character with shapes under other names (old -> new), which they carry as labels as well; names may be exchanged. What drove
    them goes on driving them."""

    def named(link: Link) -> Link:
        return replace(link, target=names[link.target]) if link.kind == "shape" and link.target in names else link

    values = {strength_of(old): strength_of(new) for old, new in names.items()}
    return replace(
        character,
        shapes=tuple(replace(s, name=names[s.name], label=names[s.name]) if s.name in names else s for s in character.shapes),
        controls=tuple(replace(c, links=tuple(map(named, c.links))) for c in character.controls),
        poses=tuple(replace(p, values={values.get(n, n): v for n, v in p.values.items()}) for p in character.poses),
    )


def without_shapes(character: Character, names: Collection[str]) -> Character:
    """The character without some shapes, and without what drove or posed them."""
    left = tuple(s for s in character.shapes if s.name not in names)
    controls = with_links_to(character.controls, {"shape": {s.name for s in left}})
    return without_lost_values(replace(character, shapes=left, controls=controls))
