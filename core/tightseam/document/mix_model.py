"""What people decide about mixing expressions: what is only made together, what is never, and what is meant to look as it does."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field
from pydantic.dataclasses import dataclass

from tightseam.document.basics import STRICT, Point
from tightseam.document.fields import InUnitOfChannel, Length, Refers

ControlName = Annotated[str, Refers("channel")]  # of a control, or of a bone's own
Way = Literal["high", "low"]  # of the two ends of a control
MOST_MIXES = 5000
Reason = Annotated[str, Field(max_length=500)]


@dataclass(frozen=True, config=STRICT)
class Need:
    """`control` is only used while `other` is at `value`, or farther from its rest: that is the base pose it is swept on."""

    SAID: ClassVar = "need of {control}"

    control: ControlName
    other: ControlName
    value: Annotated[float, InUnitOfChannel(of="other")]
    reason: Reason = ""


@dataclass(frozen=True, config=STRICT)
class Pairing:
    """Two ends of controls are swept together, or not, whatever we would do."""

    SAID: ClassVar = "pair of {one} and {other}"

    one: ControlName
    one_way: Way
    other: ControlName
    other_way: Way
    swept: bool
    reason: Reason = ""


@dataclass(frozen=True, config=STRICT)
class MixRules:
    """How expressions are swept."""

    needs: tuple[Need, ...] = ()
    pairings: tuple[Pairing, ...] = ()


@dataclass(frozen=True, config=STRICT)
class Partner:
    """An end of a control that takes part in something."""

    control: ControlName
    way: Way


Mix = tuple[Partner, Partner | None, Partner | None]


@dataclass(frozen=True, config=STRICT)
class Intended:
    """A fault of the mix that is meant: `about` these seams or the skin, at these `places` (cm, in the neutral), in these `mixes` of one,
    two or three ends. It counts again where it is much larger than it was, by its kind, in `sizes`."""

    SAID: ClassVar = "intended fault"
    LOST_WITHOUT: ClassVar = ("mixes",)

    about: tuple[str, ...]
    mixes: Annotated[tuple[Mix, ...], Field(min_length=1, max_length=MOST_MIXES)]
    places: Annotated[tuple[Point, ...], Field(min_length=1, max_length=MOST_MIXES), Length(place=True)]
    sizes: Annotated[dict[str, Annotated[float, Field(gt=0)]], Field(min_length=1)]
    reason: Reason
