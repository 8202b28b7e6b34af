"""Building bones from landmarks, and a first rig on them."""

from __future__ import annotations

from dataclasses import replace

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character, Skeleton
from tightseam.edits.base import Edit
from tightseam.first_rig import rigged, with_first_bindings
from tightseam.landmarks.bones.rebuild import rebuilt


class BuildBones(Edit):
    """Bones from landmarks. What there was and is still asked for keeps weights, limits and roles. With `bind`, parts that nothing
    carries get their first carriers."""

    choices: Skeleton = Skeleton()
    bind: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        built = rebuilt(character, self.choices, store)
        bound = {b.part for b in built.bindings}
        if self.bind and any(p.name not in bound for p in built.parts):
            built = with_first_bindings(built, store)
        return built

    def describe(self, character: Character) -> str:
        return "Built bones from landmarks" + (" and bound what was not bound" if self.bind else "")


class StartRig(Edit):
    """A first working rig: bones, carriers, weights, lids, a first set of shapes, controls, seams and test poses."""

    takes_long = True

    choices: Skeleton = Skeleton()

    def apply(self, character: Character, store: ArrayStore) -> Character:
        if character.shapes or character.controls:
            raise BadRequest("This head has shapes or controls already; a first rig would replace them.")
        return rigged(replace(character, bindings=()), self.choices, store)

    def describe(self, character: Character) -> str:
        return "Set up a first rig"
