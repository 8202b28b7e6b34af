"""All shapes in a row each: what they cover, how far they go, who drives them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.model import Character, Side
from tightseam.document.twins import other_side, side_of
from tightseam.document.units import CM_TO_MM
from tightseam.shapes.offsets import offsets_of

FAINT = 0.002  # cm below which a movement is taken for a slip of the hand


@dataclass(frozen=True)
class ShapeRow:
    """One shape: its side and its twin by its name, the parts it moves with how many vertices of each, how far it goes at most in mm, how
    many vertices it moves too little to be seen, and the controls that drive it."""

    name: str
    label: str
    side: Side
    twin: str | None
    parts: dict[str, int]
    size: float
    faint: int
    muted: bool
    driven_by: tuple[str, ...]


@derived("parts", "shapes", "controls")
def shape_rows(character: Character, store: ArrayStore) -> list[ShapeRow]:
    """In the order of the shapes."""
    names = {s.name for s in character.shapes}
    found = []
    for shape in character.shapes:
        far = {part: np.linalg.norm(x, axis=1) for part, x in offsets_of(character, store, shape).items()}
        twin = other_side(shape.name)
        found.append(
            ShapeRow(
                shape.name,
                shape.label,
                side_of(shape.name),
                twin if twin in names else None,
                {part: int((x > 0).sum()) for part, x in far.items()},
                CM_TO_MM * max((float(x.max()) for x in far.values()), default=0.0),
                sum(int(((x > 0) & (x < FAINT)).sum()) for x in far.values()),
                shape.muted,
                tuple(c.name for c in character.controls if any((n.kind, n.target) == ("shape", shape.name) for n in c.links)),
            )
        )
    return found
