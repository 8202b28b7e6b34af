"""Faults in the rigs of the demo cast, planted by code that says what it plants."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import part as find_part
from tightseam.document.make import make_influences
from tightseam.document.model import Binding, Character


@dataclass(frozen=True)
class PlantedFault:
    """What is wrong: the finding it must give, the part, the seam that shows it and the bone to blame."""

    kind: str
    part: str
    seam: str
    cause: str
    carriers: tuple[tuple[str, float], ...]


MAREN_FAULTS = (
    PlantedFault("mixed", "teeth_lower", "follow_teeth_lower", "lip_upper_middle", (("lip_upper_middle", 0.5), ("teeth_lower", 0.5))),
    PlantedFault("mixed", "eye_R", "follow_eye_R", "lid_upper_2_R", (("lid_upper_2_R", 0.55), ("lid_lower_2_R", 0.45))),
    PlantedFault("helper", "tongue", "follow_tongue", "lip_lower", (("lip_lower", 1.0),)),
)


HOB_FAULTS = (
    PlantedFault("mixed", "tongue", "follow_tongue", "head", (("head", 1.0),)),
    PlantedFault("mixed", "eye_L", "follow_eye_L", "head", (("head", 0.12), ("eye_L", 0.88))),
)
RIG_FAULTS = {"maren": MAREN_FAULTS, "hob": HOB_FAULTS}


def plant_in_rig(character: Character, store: ArrayStore, faults: tuple[PlantedFault, ...]) -> Character:
    """The character with the parts of these faults carried as they say."""
    planted = {f.part: f for f in faults}
    bindings = tuple(_with_fault(b, planted[b.part], character, store) if b.part in planted else b for b in character.bindings)
    return replace(character, bindings=bindings)


def _with_fault(binding: Binding, fault: PlantedFault, character: Character, store: ArrayStore) -> Binding:
    count = find_part(character, fault.part).vertex_count
    weights = np.tile([w for _, w in fault.carriers], (count, 1))
    carrier: Literal["rigid", "weighted"] = "rigid" if len(fault.carriers) == 1 else "weighted"
    return Binding(binding.part, carrier, make_influences(store, [b for b, _ in fault.carriers], weights))
