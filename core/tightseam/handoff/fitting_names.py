"""Names that a receiver takes, in place of those that it does not."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence
from typing import Any

from tightseam.document.model import Character
from tightseam.findings.finding import Repair, repair
from tightseam.handoff.profile import Profile

PLAIN = re.compile(r"[A-Za-z][A-Za-z0-9_]*")
SAID = "Give them names that fit"


def fits(name: str, profile: Profile) -> bool:
    short = profile.name_length is None or len(name) <= profile.name_length
    return short and not (profile.plain_names and not PLAIN.fullmatch(name))


def fitting(names: Sequence[str], profile: Profile) -> dict[str, str]:
    """A name that fits for each that does not: odd signs become _, what is too long is cut, and all are different from one another and
    from those that stay."""
    taken = {n for n in names if fits(n, profile)}
    found: dict[str, str] = {}
    for name in names:
        if name not in taken:
            found[name] = _free(name, profile, taken | set(found.values()))
    return found


def name_repair(character: Character, kind: str, profile: Profile) -> tuple[Repair, ...]:
    """The edit that gives all parts, bones or shapes names that fit; bones keep theirs here, and are called otherwise in files."""
    if kind == "bone":
        others = fitting([b.export or b.name for b in character.bones], profile)
        exported = {b.name: others.get(b.export or b.name, b.export or b.name) for b in character.bones}
        return repair("bones.set_export_names", {"names": {b: n for b, n in exported.items() if b != n}}, SAID)
    if kind == "shape":
        return repair("shape.rename", {"names": fitting([s.name for s in character.shapes], profile)}, SAID)
    others = fitting([p.name for p in character.parts], profile)
    steps: list[dict[str, Any]] = [{"edit": "part.rename", "params": {"part": old, "name": new}} for old, new in others.items()]
    return repair("edits.together", {"steps": steps}, SAID)


def _free(name: str, profile: Profile, taken: Collection[str]) -> str:
    plain = re.sub(r"\W+", "_", name, flags=re.ASCII).strip("_") if profile.plain_names else name
    if profile.plain_names and not PLAIN.fullmatch(plain):
        plain = f"n_{plain}".rstrip("_")
    most = profile.name_length or len(plain) + 8
    found, k = plain[:most], 2
    while found in taken or not found:
        more = f"_{k}"
        found, k = f"{plain[: max(most - len(more), 0)]}{more}"[-most:], k + 1
    return found
