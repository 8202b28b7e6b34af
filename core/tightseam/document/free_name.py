"""Names that nobody has yet."""

from __future__ import annotations

from collections.abc import Collection


def free_name(wanted: str, taken: Collection[str]) -> str:
    """The name that is wanted, or the first of it with a number behind that is none of those `taken`."""
    name, k = wanted, 2
    while name in taken:
        name, k = f"{wanted}_{k}", k + 1
    return name
