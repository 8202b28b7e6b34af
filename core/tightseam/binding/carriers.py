"""Which bone should carry a part that is carried by one."""

from __future__ import annotations

from collections.abc import Sequence

from tightseam.document.model import Bone, Part, PartKind

CARRIERS: dict[PartKind, str] = {
    "teeth upper": "teeth_upper", "teeth lower": "teeth_lower", "brow": "head", "lash": "head", "hair": "head", "whiskers": "head",
}  # fmt: skip


def usual_carrier(part: Part) -> str | None:
    """The name that bone is built under; None for a part that is carried by several, or by none."""
    return f"eye_{part.side}" if part.kind == "eye" else CARRIERS.get(part.kind)


def made_bone(bones: Sequence[Bone], made_as: str) -> Bone | None:
    """The bone that was built under a name, whatever it is called now; None where there is none that deforms."""
    return next((b for b in bones if made_as in (b.name, b.made_as) and b.role == "deform"), None)
