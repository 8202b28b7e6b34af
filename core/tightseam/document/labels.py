"""Names as people read them."""

from __future__ import annotations


def part_label(name: str) -> str:
    """ "teeth_lower" is "Teeth lower", "eye_L" is "Eye L"."""
    plain = name.replace("_", " ")
    return plain[:1].upper() + plain[1:]


def vertices_said(count: int) -> str:
    """ "1 vertex", "3 vertices"."""
    return "1 vertex" if count == 1 else f"{count} vertices"
