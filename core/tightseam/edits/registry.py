"""The registry of edits, and recipes: lists of edits that can be replayed."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.edits.base import Edit
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


Step = Annotated[SetCarrierStep | SetWeightsStep | SetRangeStep, Field(discriminator="edit")]
EDITS: dict[str, type[Edit]] = {"binding.set_carrier": SetCarrier, "weights.set": SetWeights, "control.set_range": SetRange}
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
