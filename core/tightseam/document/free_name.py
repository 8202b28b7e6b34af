"""Names that nobody has yet."""

from __future__ import annotations

import re
from collections.abc import Collection


def plain_name(label: str, otherwise: str) -> str:
    """A name from a label: small letters, digits and _; what it is `otherwise` where none of these are in it."""
    return re.sub(r"\W+", "_", label.lower()).strip("_") or otherwise


def free_name(wanted: str, taken: Collection[str]) -> str:
    """The name that is wanted, or the first of it with a number behind that is none of those `taken`."""
    name, k = wanted, 2
    while name in taken:
        name, k = f"{wanted}_{k}", k + 1
    return name
