"""Sizes in words."""

from __future__ import annotations

from tightseam.findings.finding import Unit


def said_size(size: float, unit: Unit) -> str:
    """A size with its unit: 0.52 mm, 3.1 times, 80% of an edge."""
    if unit == "share":
        return f"{size:.0%} of an edge"
    if unit == "times":
        return f"{size:.1f} times"
    return f"{size:.2f} {unit}" if size < 10 else f"{size:.1f} {unit}"
