"""What a control drives."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AliasChoices, BeforeValidator, Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_link
from tightseam.document.control_chains import chain_depth
from tightseam.document.errors import BadRequest
from tightseam.document.labels import target_label
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import control as find_control
from tightseam.document.lookup import relief as find_relief
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Axis, Character, Link, LinkKind
from tightseam.document.mouth_model import CORNERS, SEALS
from tightseam.edits.base import Edit
from tightseam.edits.control_edits import Number
from tightseam.edits.curves import Keys, checked_keys
from tightseam.edits.set_range import FARTHEST


def _several(value: Any) -> Any:
    return [value] if isinstance(value, str) else value  # earlier versions had one `target`


class LinkControl(Edit):
    """Have a control drive things of one kind, such as those of both sides, by so much a unit or along a curve over its values; with `gain`
    0 it lets go of them."""

    control: str
    kind: LinkKind
    targets: Annotated[list[str], BeforeValidator(_several)] = Field(
        min_length=1, max_length=20, validation_alias=AliasChoices("targets", "target")
    )
    gain: Number = 1.0
    axis: Axis | None = None
    by: Literal["turn", "move"] = "turn"
    keys: Keys = ()

    def apply(self, character: Character, store: ArrayStore) -> Character:
        control = find_control(character, self.control)
        if (self.kind == "bone") != (self.axis is not None):
            raise BadRequest("A bone is driven about or along one of its axes, x, y or z; nothing else has axes.")
        keys = checked_keys(self.keys, "response", values=(-FARTHEST, FARTHEST))
        for target in self.targets:
            _check_target(character, self.kind, target)
            link = Link(self.kind, target, self.gain, self.axis, self.by, keys)
            character = with_link(character, control.name, link if self.gain else None, link)
        if chain_depth(character.controls) is None:
            raise BadRequest(f"{control.label} would drive itself: {self.targets[0]} leads back to it.")
        return character

    def describe(self, character: Character) -> str:
        said = " and ".join(target_label(character, self.kind, t) for t in self.targets)
        label = find_control(character, self.control).label
        return f"{label} drives {said}" if self.gain else f"{label} no longer drives {said}"


def _check_target(character: Character, kind: LinkKind, target: str) -> None:
    """BadRequest where there is nothing of that kind and name to drive."""
    find = {"shape": find_shape, "bone": find_bone, "relief": find_relief, "control": find_control}
    if kind in find:
        find[kind](character, target)
        return
    lids = {name for x in character.lids for name in x.names}
    there = lids if kind == "lid" else set(SEALS if kind == "seal" else CORNERS) if character.lips else set()
    if target not in there:
        raise BadRequest(f"There is no {kind} called “{target}”. There are: {', '.join(sorted(there)) or 'none'}.")
