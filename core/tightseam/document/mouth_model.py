"""The nouns of the lower face: reliefs, and lips that seal. Lengths in cm."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field
from pydantic.dataclasses import dataclass

from tightseam.document.arrays import ArrayHash
from tightseam.document.basics import STRICT, CurveKey, CurveKeys, Point
from tightseam.document.fields import Beside, Length, Named, PartName, Refers, Vertices

MOST_STICK = 2.0  # cm over which lips may hold together
MOST_RELIEF = 10.0  # cm
ReliefWay = Literal["out", "along"]


@dataclass(frozen=True, config=STRICT)
class Relief:
    """A regional offset of a part's surface, driven by the links of controls.

    `vertices` (K,) int32 of the part move, each by its `region` (K,) float32 0..1 of `cm`: `out` along the normal of the neutral, in
    where that is negative; or `along` the surface as `way` points. With a `line` (from the character's right to the left) the curve
    `profile` says how much of it there is over the way from the line's right end (-1) through its middle (0) to its left end (1).
    `exaggerate` multiplies it while somebody tunes it; a `muted` one does nothing.
    """

    SAID: ClassVar = "relief {name}"

    name: Annotated[str, Named("relief")]
    label: str
    part: PartName
    vertices: Annotated[ArrayHash, Vertices("part")]
    region: Annotated[ArrayHash, Beside("vertices", low=0, high=1)]
    cm: Annotated[float, Length(most=MOST_RELIEF)]
    direction: ReliefWay = "out"
    way: Point | None = None
    line: Annotated[tuple[Point, ...], Field(max_length=64), Length(place=True)] = ()
    profile: CurveKeys = ()
    exaggerate: Annotated[float, Field(ge=1, le=10)] = 1.0
    muted: bool = False
    twin: Annotated[str | None, Refers("relief")] = None


SEAL_WAY = (CurveKey(0.0, 0.0), CurveKey(1.0, 1.0))


@dataclass(frozen=True, config=STRICT)
class Lips:
    """The two lips of a skin: how they seal, and how their corners follow the jaw.

    `upper` and `lower` are their lines from the right corner to the left, both included. `vertices` (K,) int32 move: each takes
    its `share` (K,) 0..1 of the sealing at its `place` (K,) from the right corner (-1) to the left (1), and its `corner` (K,) 0..1 of
    what the corner on its side does. Sealed lips are carried together, by `balance` between `upper_bone` (0) and `lower_bone` (1); as
    the jaw swings them back they stay in front of the teeth by `ahead` of that way. Until the jaw has parted them by `stick` cm they
    hold together by themselves, whatever way it goes. `zip` is the value of the control at which a place seals, over the way from the
    corner (0) to the middle (1); `soft` is how much further the control has to go until it is closed there.
    """

    SAID: ClassVar = "lips"

    skin: PartName
    upper: Annotated[ArrayHash, Vertices("skin", ordered=True)]
    lower: Annotated[ArrayHash, Vertices("skin", ordered=True)]
    vertices: Annotated[ArrayHash, Vertices("skin")]
    share: Annotated[ArrayHash, Beside("vertices", low=0, high=1)]
    place: Annotated[ArrayHash, Beside("vertices")]
    corner: Annotated[ArrayHash, Beside("vertices", low=0, high=1)]
    balance: Annotated[float, Field(ge=0, le=1)] = 0.5
    ahead: Annotated[float, Field(ge=0, le=2)] = 1.25
    stick: Annotated[float, Field(ge=0, le=MOST_STICK), Length(most=MOST_STICK)] = 0.15
    zip: CurveKeys = SEAL_WAY
    soft: Annotated[float, Field(ge=0.01, le=1)] = 0.3
    upper_bone: Annotated[str, Refers("bone", strict=False)] = "head"
    lower_bone: Annotated[str, Refers("bone", strict=False)] = "jaw"


SEALS = ("seal_L", "seal_R")  # what links call the sealing from the left and the right corner
CORNERS = ("corner_L", "corner_R")  # and how far each corner follows the jaw beyond its weights
