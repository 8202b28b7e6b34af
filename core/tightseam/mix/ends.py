"""What a sweep moves: both ends of every control, and of what bones do by themselves where no control moves them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from tightseam.document.channels import Channel, channels_of
from tightseam.document.labels import channel_label
from tightseam.document.mix_model import Way
from tightseam.document.model import Bone, Character, Control

WIDEST = {"turn": 60.0, "move": 2.0}  # degrees, cm: a channel that goes farther has no limit anybody set
STILL = ("teeth", "neck")  # regions whose bones no expression moves by themselves


@dataclass(frozen=True)
class End:
    """A control or a bone's channel at one of its ends: `value` against where it rests. `name` tells the ends of one control apart."""

    name: str
    label: str
    control: str
    value: float
    rest: float = 0.0

    @property
    def way(self) -> Way:
        """Which end of its control it is."""
        return "high" if self.value > self.rest else "low"

    def at(self, strength: float) -> float:
        """The control's value so much of the way to the end."""
        return self.rest + strength * (self.value - self.rest)


def ends(character: Character, own: bool | None = None) -> tuple[End, ...]:
    """All ends, in the order of the document: of controls and, with `own`, of the channels of bones that no control moves. Where nothing
    is said, these are asked only of a face that has no controls: with them they are many, and seldom what an animator moves."""
    found = [end for c in character.controls for end in _of_control(c)]
    if own if own is not None else not found:
        driven = set(moved_bones(character.controls))
        for bone in character.bones:
            if bone.role == "deform" and bone.name not in driven and bone.region not in STILL:
                found += [end for channel in channels_of(bone) for end in _of_channel(bone, channel)]
    return tuple(found)


def moved_bones(controls: Iterable[Control]) -> Iterable[str]:
    """The names of the bones that controls move."""
    return (link.target for c in controls for link in c.links if link.kind == "bone")


def _of_control(control: Control) -> list[End]:
    away = [v for v in (control.high, control.low) if abs(v - control.rest) > 1e-9]
    return [_end(control.name, control.label, control.unit, v, control.rest, two=len(away) == 2) for v in away]


def _of_channel(bone: Bone, channel: Channel) -> list[End]:
    low, high = channel.span
    if max(-low, high) > WIDEST[channel.kind]:
        return []
    label = channel_label(bone.label, channel)
    away = [v for v in (high, low) if abs(v) > 1e-9]
    return [_end(channel.name, label, channel.unit, v, 0.0, two=len(away) == 2) for v in away]


def _end(control: str, label: str, unit: str, value: float, rest: float, two: bool) -> End:
    sign = "" if not two else "+" if value > rest else "-"
    said = f"{label} {value:+g}{unit}" if two or unit else label
    return End(control + sign, said, control, value, rest)
