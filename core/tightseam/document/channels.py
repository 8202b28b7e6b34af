"""The control that every bone has of its own: turns about and moves along its axes, addressed like any control, at rest at 0."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from tightseam.document.model import Axis, Bone, Span

AXES: tuple[Axis, ...] = ("x", "y", "z")


@dataclass(frozen=True)
class Channel:
    """One movement of one bone: `turn` in degrees about `axis`, `move` in cm along it."""

    bone: str
    kind: Literal["turn", "move"]
    axis: Axis
    span: Span

    @property
    def name(self) -> str:
        return f"{self.bone}.{self.kind}_{self.axis}"

    @property
    def unit(self) -> str:
        return "°" if self.kind == "turn" else " cm"


def channels_of(bone: Bone) -> tuple[Channel, ...]:
    """The movements a bone's limits allow."""
    turns = [Channel(bone.name, "turn", axis, span) for axis, span in zip(AXES, bone.turn, strict=True)]
    moves = [Channel(bone.name, "move", axis, span) for axis, span in zip(AXES, bone.move, strict=True)]
    return tuple(c for c in (*turns, *moves) if c.span != (0.0, 0.0))


def channels(bones: Iterable[Bone]) -> dict[str, Channel]:
    """All channels by name."""
    return {c.name: c for bone in bones for c in channels_of(bone)}
