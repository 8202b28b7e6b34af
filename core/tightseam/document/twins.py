"""Which bone is whose twin, by the names people give to left and right."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from tightseam.document.model import Bone, Side

WORD = "[Ll]eft|LEFT|[Rr]ight|RIGHT"
SIDE = re.compile(rf"(?<![A-Za-z])({WORD}|[LlRr])(?![A-Za-z])|(?<=[a-z])(Left|Right|L|R)(?![a-z])|^([Ll]eft|[Rr]ight)(?=[A-Z])")
OTHER = {"l": "r", "r": "l", "left": "right", "right": "left"}


def side_of(name: str) -> Side:
    """The side a name speaks of; C where it speaks of none."""
    found = SIDE.search(name)
    return "C" if found is None else "L" if found[0].lower().startswith("l") else "R"


def other_side(name: str) -> str | None:
    """The same name for the other side, in the same letters: jaw_L gives jaw_R, LeftEye gives RightEye; None without a side."""
    found = SIDE.search(name)
    if found is None:
        return None
    word = OTHER[found[0].lower()]
    word = word.upper() if found[0].isupper() else word.capitalize() if found[0][0].isupper() else word
    return name[: found.start()] + word + name[found.end() :]


def with_twins(bones: Sequence[Bone]) -> tuple[Bone, ...]:
    """The bones with sides and twins as their names say, where both bones of a pair are there."""
    names = {b.name for b in bones}
    return tuple(replace(b, side=side_of(b.name), twin=other_side(b.name)) if other_side(b.name) in names else b for b in bones)
