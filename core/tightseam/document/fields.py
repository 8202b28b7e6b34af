"""What the fields of a document refer to, said on the fields themselves as `Annotated` marks.

Everything that has to know follows from the marks: which arrays a document has, whether it holds together, and what becomes of it when
vertices are numbered anew, things are renamed or removed, or the whole is made larger. A field is named by its name in its own
record or, where that has none, in the nearest one round it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

Noun = Literal[
    "part", "bone", "landmark", "shape", "relief", "lid", "seal", "corner", "control", "channel", "pad", "seam", "pose", "selection", "cap"
]
SAID: dict[Noun, str] = {"pad": "pad of the face plan", "channel": "control"}  # the others are said as they are called


@dataclass(frozen=True)
class Named:
    """The name of the thing itself, single among all of its noun."""

    noun: Noun


@dataclass(frozen=True)
class Refers:
    """The name of another thing: of `noun`, or of the noun that the field `noun_in` says. Where that thing goes, an optional name becomes
    None, unless the record is `lost` with it; any other takes along what it stands in. A name that is not `strict` may be of nothing."""

    noun: Noun | None = None
    noun_in: str = ""
    lost: bool = False
    strict: bool = True


@dataclass(frozen=True)
class Needed:
    """The record is lost with what stands in this optional field."""


@dataclass(frozen=True)
class Array:
    """The hash of an array that says nothing of vertices: sizes and corners of polygons."""


@dataclass(frozen=True)
class Vertices(Array):
    """Vertices (K,) of the part named by `of`, each once. `ordered` along a line or as a set that is kept as it is; otherwise rows of
    other arrays stand `Beside` it."""

    of: str
    ordered: bool = False


@dataclass(frozen=True)
class Beside(Array):
    """A row for each of the vertices in the field `rows`: a value (K,), or (K, `width`); float, or whole numbers where it says so."""

    rows: str
    width: int = 1
    low: float | None = None
    high: float | None = None
    whole: bool = False


@dataclass(frozen=True)
class PerVertex(Array):
    """A row for each vertex of the part named by `of`."""

    of: str
    width: int = 1
    low: float | None = None
    high: float | None = None
    whole: bool = False


@dataclass(frozen=True)
class PerPolygon(Array):
    """A row for each polygon of the part it belongs to."""


@dataclass(frozen=True)
class Roots(Array):
    """For each vertex of the part named by `of` a vertex of the part named by `on`. Without `of` for each of something outside the
    document."""

    on: str
    of: str = ""


def _always(_record: Any) -> bool:
    return True


@dataclass(frozen=True)
class Length:
    """In cm: a number, points, spans or an array of them. Only `when` the record says so, and never over `most`. A `place` is a point in
    space, which goes along where the whole is moved."""

    when: Callable[[Any], bool] = _always
    most: float = float("inf")
    place: bool = False


@dataclass(frozen=True)
class InUnitOfChannel:
    """The value of a control: in cm, in degrees or without a unit, as the control that it stands for, whose name is in the field `of`."""

    of: str = "0"


PartName = Annotated[str, Refers("part")]
BoneName = Annotated[str, Refers("bone")]
Rooted = tuple[PartName, Annotated[str, Roots(on="skin", of="0")]]  # a part, and what its vertices are rooted at on the skin round it
