"""The registry of edits, and recipes: lists of edits that can be replayed."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.edits.base import Edit
from tightseam.edits.checkin_edits import SetLimit, Unwaive, Waive
from tightseam.edits.eye_edits import CentrePivot, DrawToBall, PushBack, Shrink
from tightseam.edits.mesh_edits import MakeSymmetric, RemoveLoose, SmoothPatch, TurnFaces, Weld
from tightseam.edits.part_edits import BakeTransform, RemovePart, Rename, SetKind, SetUnits, SplitIslands
from tightseam.edits.set_carrier import SetCarrier
from tightseam.edits.set_range import SetRange
from tightseam.edits.set_weights import SetWeights


class _Step(BaseModel):
    model_config = ConfigDict(extra="forbid")


class SetCarrierStep(_Step):
    edit: Literal["binding.set_carrier"]
    params: SetCarrier


class SetWeightsStep(_Step):
    edit: Literal["weights.set"]
    params: SetWeights


class SetRangeStep(_Step):
    edit: Literal["control.set_range"]
    params: SetRange


class WeldStep(_Step):
    edit: Literal["mesh.weld"]
    params: Weld


class RemoveLooseStep(_Step):
    edit: Literal["mesh.remove_loose"]
    params: RemoveLoose


class TurnFacesStep(_Step):
    edit: Literal["mesh.turn_faces"]
    params: TurnFaces


class SmoothPatchStep(_Step):
    edit: Literal["mesh.smooth_patch"]
    params: SmoothPatch


class MakeSymmetricStep(_Step):
    edit: Literal["mesh.make_symmetric"]
    params: MakeSymmetric


class RenameStep(_Step):
    edit: Literal["part.rename"]
    params: Rename


class SetKindStep(_Step):
    edit: Literal["part.set_kind"]
    params: SetKind


class RemovePartStep(_Step):
    edit: Literal["part.remove"]
    params: RemovePart


class BakeTransformStep(_Step):
    edit: Literal["part.bake_transform"]
    params: BakeTransform


class SplitIslandsStep(_Step):
    edit: Literal["part.split_islands"]
    params: SplitIslands


class CentrePivotStep(_Step):
    edit: Literal["eye.centre_pivot"]
    params: CentrePivot


class DrawToBallStep(_Step):
    edit: Literal["eye.draw_to_ball"]
    params: DrawToBall


class PushBackStep(_Step):
    edit: Literal["eye.push_back"]
    params: PushBack


class ShrinkStep(_Step):
    edit: Literal["eye.shrink"]
    params: Shrink


class SetUnitsStep(_Step):
    edit: Literal["character.set_units"]
    params: SetUnits


class SetLimitStep(_Step):
    edit: Literal["checkin.set_limit"]
    params: SetLimit


class WaiveStep(_Step):
    edit: Literal["checkin.waive"]
    params: Waive


class UnwaiveStep(_Step):
    edit: Literal["checkin.unwaive"]
    params: Unwaive


Step = Annotated[
    SetCarrierStep
    | SetWeightsStep
    | SetRangeStep
    | WeldStep
    | RemoveLooseStep
    | TurnFacesStep
    | SmoothPatchStep
    | MakeSymmetricStep
    | RenameStep
    | SetKindStep
    | RemovePartStep
    | BakeTransformStep
    | SplitIslandsStep
    | CentrePivotStep
    | DrawToBallStep
    | PushBackStep
    | ShrinkStep
    | SetUnitsStep
    | SetLimitStep
    | WaiveStep
    | UnwaiveStep,
    Field(discriminator="edit"),
]
EDITS: dict[str, type[Edit]] = {
    "binding.set_carrier": SetCarrier,
    "weights.set": SetWeights,
    "control.set_range": SetRange,
    "mesh.weld": Weld,
    "mesh.remove_loose": RemoveLoose,
    "mesh.turn_faces": TurnFaces,
    "mesh.smooth_patch": SmoothPatch,
    "mesh.make_symmetric": MakeSymmetric,
    "part.rename": Rename,
    "part.set_kind": SetKind,
    "part.remove": RemovePart,
    "part.bake_transform": BakeTransform,
    "part.split_islands": SplitIslands,
    "eye.centre_pivot": CentrePivot,
    "eye.draw_to_ball": DrawToBall,
    "eye.push_back": PushBack,
    "eye.shrink": Shrink,
    "character.set_units": SetUnits,
    "checkin.set_limit": SetLimit,
    "checkin.waive": Waive,
    "checkin.unwaive": Unwaive,
}
_recipe: TypeAdapter[list[Step]] = TypeAdapter(list[Step])


def parse_recipe(text: bytes | str) -> list[Step]:
    """Steps of a recipe from JSON; BadRequest says which step is wrong and why."""
    try:
        return _recipe.validate_json(text)
    except ValidationError as error:
        raise BadRequest(explain(error, "The recipe")) from None


def explain(error: ValidationError, what: str) -> str:
    """The first thing a validation found, in one line."""
    first = error.errors()[0]
    where = " › ".join(str(step) for step in first["loc"] if step not in ("params",))
    known = f" The edits are: {', '.join(EDITS)}." if first["type"].startswith("union_tag") else ""
    return f"{what} is not right{f' at {where}' if where else ''}: {first['msg']}.{known}"


def apply_recipe(character: Character, store: ArrayStore, steps: list[Step]) -> Character:
    for step in steps:
        character = step.params.apply(character, store)
    return character
