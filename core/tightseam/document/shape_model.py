"""Blend shapes, what brings those in that correct a mix of expressions, and how far they may add up."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field
from pydantic.dataclasses import dataclass

from tightseam.document.arrays import ArrayHash
from tightseam.document.basics import STRICT
from tightseam.document.fields import Beside, InUnitOfChannel, Length, Named, Needed, PartName, Refers, Vertices

MOST_DRIVERS = 6
MOST_GAIN = 4.0
Mixed = Literal["product", "radial"]


@dataclass(frozen=True, config=STRICT)
class PartDelta:
    """What a shape does to one part: vertex indices int32 and offsets (K, 3) float32 in cm."""

    part: PartName
    vertices: Annotated[ArrayHash, Vertices("part")]
    offsets: Annotated[ArrayHash, Beside("vertices", width=3), Length()]


@dataclass(frozen=True, config=STRICT)
class Driver:
    """A ramp over the value of a control, of a bone's own or of a shape's strength: nothing up to `comes_in`, all of it from `full` on."""

    channel: Annotated[str, Refers("channel")]
    comes_in: Annotated[float, InUnitOfChannel(of="channel")]
    full: Annotated[float, InUnitOfChannel(of="channel")]


@dataclass(frozen=True, config=STRICT)
class Activation:
    """What brings a corrective in, `gain` times: the product of the ramps of its drivers; or a radial basis over them, which comes in
    sooner where there are many."""

    LOST_WITH_ANY: ClassVar = ("drivers",)

    drivers: Annotated[tuple[Driver, ...], Field(min_length=1, max_length=MOST_DRIVERS)]
    mixed: Mixed = "product"
    gain: Annotated[float, Field(ge=-MOST_GAIN, le=MOST_GAIN)] = 1.0


@dataclass(frozen=True, config=STRICT)
class Shape:
    """A blend shape over several parts. A muted one is kept, but does nothing. With an `activation` it is a corrective: it comes in by
    itself where other things meet, and goes when one of these does."""

    SAID: ClassVar = "shape {name}"
    SELDOM: ClassVar = ("activation",)  # written only where it says something, so that what was stored before keeps its hash

    name: Annotated[str, Named("shape")]
    label: str
    deltas: tuple[PartDelta, ...]
    muted: bool = False
    activation: Annotated[Activation | None, Needed()] = None


MOST_CAP = 10.0  # cm


@dataclass(frozen=True, config=STRICT)
class Cap:
    """How far expressions together may bring vertices of a part by their shapes: `cm`, or as far as one of them brings a vertex by itself
    where that is farther, so that a single expression stays as it is. Of what is beyond, ever less is let through, `soft` cm at most.
    `vertices` (K,) int32 are held by their `region` (K,) float32 0..1; correctives come on top."""

    SAID: ClassVar = "cap {name}"

    name: Annotated[str, Named("cap")]
    label: str
    part: PartName
    vertices: Annotated[ArrayHash, Vertices("part")]
    region: Annotated[ArrayHash, Beside("vertices", low=0, high=1)]
    cm: Annotated[float, Field(ge=0, le=MOST_CAP), Length(most=MOST_CAP)] = 0.0
    soft: Annotated[float, Field(ge=0, le=MOST_CAP), Length(most=MOST_CAP)] = 0.1
