"""The controls that bones and shapes have of their own: a bone turns about and moves along its axes, a shape has its strength. They are
addressed like any control and rest at 0."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from tightseam.document.model import Axis, Bone, Character, Shape, Span

AXES: tuple[Axis, ...] = ("x", "y", "z")
STRENGTHS: Span = (-1.0, 1.0)  # of a shape by itself


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


def strength_of(shape: str) -> str:
    """The name of a shape's own strength."""
    return f"{shape}.strength"


def own_spans(character: Character) -> dict[str, Span]:
    """How far each bone's and each shape's own control goes, by name."""
    return strengths(character.shapes) | {name: c.span for name, c in channels(character.bones).items()}


def strengths(shapes: Iterable[Shape]) -> dict[str, Span]:
    return {strength_of(s.name): STRENGTHS for s in shapes}
