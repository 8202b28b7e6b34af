"""The lower face as the Jaw station sees it: the skin, where its regions lie, what hangs on the jaw."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import points
from tightseam.document.model import Character, Part
from tightseam.geometry.types import Bools, Ints
from tightseam.head.regions import Rim, lips
from tightseam.head.surface import surface_of
from tightseam.shapes.expressions import mouth_scale
from tightseam.surfaces.patches import patches_of


class LowerFace:
    """The skin of a head in its neutral. What is costly is made once, when first asked for. BadRequest where there is no skin, or a
    landmark is missing that a region needs."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self.character, self.store = character, store
        self.skin = _skin(character)
        self.surface = surface_of(character, store, self.skin)

    @cached_property
    def mouth(self) -> Rim:
        return lips(self.surface)

    @cached_property
    def outside(self) -> Bools:
        """The face but for the lining of the mouth, (N,)."""
        return ~self.mouth.inside

    @cached_property
    def patches(self) -> dict[str, Bools]:
        """The regions that may sink in as the mouth opens, by name, (N,) each."""
        return patches_of(self.surface, self.outside)

    @cached_property
    def lower(self) -> Ints:
        """Triangles (T, 3) of the lower face: outside the mouth, below the base of the nose, in front of the hinges, above the neck."""
        s, p = self.surface, self.surface.points
        hinge = (s.mark("jaw_hinge_L") + s.mark("jaw_hinge_R")) / 2
        bottom = s.mark("chin_under")[1] - 0.5 * (s.mark("lip_lower")[1] - s.mark("chin_under")[1])
        inside = self.outside & (p[:, 1] < s.mark("nose_base")[1]) & (p[:, 1] > bottom) & (p[:, 2] > hinge[2])
        return s.triangles[inside[s.triangles].all(axis=1)]

    @cached_property
    def scale(self) -> float:
        """How wide the mouth is against the reference."""
        return mouth_scale(self.surface)

    @cached_property
    def chin(self) -> int:
        return self.surface.vertex("chin_front")

    @cached_property
    def tooth(self) -> tuple[str, int] | None:
        """The part of the lower teeth, and its vertex farthest to the front; None without lower teeth."""
        teeth = next((p for p in self.character.parts if p.kind == "teeth lower"), None)
        if teeth is None:
            return None
        where = points(self.character, self.store, teeth.name)
        return teeth.name, int((where[:, 2] - 0.5 * np.abs(where[:, 0] - where[:, 0].mean()) + 0.1 * where[:, 1]).argmax())


def _skin(character: Character) -> Part:
    found = [p for p in character.parts if p.kind == "skin"]
    if len(found) != 1:
        raise BadRequest(f"The Jaw station needs one part of kind skin; there are {len(found)}.")
    return found[0]
