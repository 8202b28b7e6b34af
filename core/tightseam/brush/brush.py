"""A brush for values on a surface, and what it touches."""

from __future__ import annotations

from dataclasses import field
from typing import Annotated, Literal, Protocol

import numpy as np
from pydantic import ConfigDict, Field
from pydantic.dataclasses import dataclass

from tightseam.geometry.easing import smoothstep
from tightseam.geometry.types import Floats

Tool = Literal["set", "add", "take", "smooth", "even"]
Falloff = Literal["soft", "linear", "hard"]
Coordinate = Annotated[float, Field(ge=-1e4, le=1e4)]
Place = tuple[Coordinate, Coordinate, Coordinate]
STRICT = ConfigDict(extra="forbid", allow_inf_nan=False)


@dataclass(frozen=True, config=STRICT)
class Brush:
    """How a stroke paints. `radius` in cm over the posed surface, `strength` (0..1) of one dab at its middle.

    `value` is what Set goes towards. With `through` it reaches everything within its radius through the air, else what hangs together
    along the surface and faces the eye. `most` is the farthest a stroke may take a value from where it was, None for no end.
    """

    radius: Annotated[float, Field(gt=0, le=50)]
    strength: Annotated[float, Field(gt=0, le=1)]
    value: Annotated[float, Field(ge=0, le=1)] = 1.0
    falloff: Falloff = "soft"
    through: bool = False
    most: Annotated[float, Field(gt=0, le=1)] | None = None


class Touch(Protocol):
    """Where a brush touches, whatever it does there."""

    @property
    def vertex(self) -> int: ...
    @property
    def place(self) -> Place: ...
    @property
    def eye(self) -> Place | None: ...
    @property
    def pressure(self) -> float: ...


@dataclass(frozen=True, config=STRICT)
class Dab:
    """One touch: where on the posed surface (cm), the vertex nearest to it, from where it was seen, how hard, and with which tool."""

    vertex: Annotated[int, Field(ge=0)]
    place: Place
    tool: Tool
    eye: Place | None = None
    pressure: Annotated[float, Field(gt=0, le=1)] = 1.0


@dataclass(frozen=True, config=STRICT)
class Painting:
    """What a stroke paints on: one bone's weights on a part, on the head posed by `values`.

    `locked` bones keep theirs, `only` limits it to some vertices, with `mirror` the other side gets the same by the twin, with
    `keep_total` the other bones that are not locked give or take in proportion.
    """

    part: str
    bone: str
    brush: Brush
    values: Annotated[dict[str, float], Field(max_length=2000)] = field(default_factory=dict)
    locked: Annotated[list[str], Field(max_length=2000)] = field(default_factory=list)
    only: Annotated[list[int], Field(max_length=2_000_000)] | None = None
    mirror: bool = False
    keep_total: bool = True


def falloff(kind: Falloff, share: Floats) -> Floats:
    """How much of a dab arrives (K,) at shares 0..1 of its radius: level at both ends, straight down, or all of it."""
    if kind == "hard":
        return np.ones_like(share)
    return np.asarray(1 - (share if kind == "linear" else smoothstep(share)))
