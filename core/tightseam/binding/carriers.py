"""Which bone should carry a part that is carried by one."""

from __future__ import annotations

from tightseam.document.model import Part, PartKind

CARRIERS: dict[PartKind, str] = {
    "teeth upper": "teeth_upper", "teeth lower": "teeth_lower", "brow": "head", "lash": "head", "hair": "head", "whiskers": "head",
}  # fmt: skip


def usual_carrier(part: Part) -> str | None:
    """The name that bone is built under; None for a part that is carried by several, or by none."""
    return f"eye_{part.side}" if part.kind == "eye" else CARRIERS.get(part.kind)
