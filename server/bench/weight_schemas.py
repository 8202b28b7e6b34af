"""What the API takes and gives about selections and weights, as types."""

from typing import Literal

from ninja import Schema
from pydantic import Field
from tightseam.brush.brush import Dab, Painting
from tightseam.jaw.relief_stroke import ReliefPainting
from tightseam.lids.map_stroke import MapPainting
from tightseam.weights.selection import Growth


class SelectIn(Schema):
    """Vertices of a part, and how to change the selection; `bone` with a range picks by weight, `across` goes to the other side, `shape`
    are those that it moves, `cap` those that it holds."""

    revision: int
    part: str
    vertices: list[int] = Field(default=[], max_length=2_000_000)
    how: Growth | Literal["across", "weight", "saved", "shape", "cap"]
    bone: str | None = None
    saved: str | None = Field(default=None, description="the name of a kept selection")
    shape: str | None = None
    cap: str | None = None
    low: float = Field(default=0.001, ge=0, le=2)
    high: float = Field(default=1, ge=0, le=2)


class PaintIn(Schema):
    """Dabs of a stroke that is being drawn. `token` names the stroke, `first` is how many dabs of it came before these."""

    revision: int
    token: str = Field(min_length=8, max_length=64)
    painting: Painting | MapPainting | ReliefPainting
    first: int = Field(ge=0)
    dabs: list[Dab] = Field(min_length=1, max_length=500)


class SelectOut(Schema):
    vertices: list[int]


class SelectionIn(Schema):
    revision: int
    part: str
    vertices: list[int] = Field(min_length=1, max_length=2_000_000)


class BoneShareOut(Schema):
    """A bone on a selection: mean and largest weight, and how many vertices it is on."""

    bone: str
    mean: float
    most: float
    vertices: int


class IslandOut(Schema):
    """An island of a part: its vertices, and the bones that carry most of it with their mean weights."""

    vertices: list[int]
    bones: list[BoneShareOut]


class TableIn(SelectionIn):
    vertices: list[int] = Field(min_length=1, max_length=2000)


class TableOut(Schema):
    """Weights of vertices: a row each, a column a bone, those that carry most first."""

    vertices: list[int]
    bones: list[str]
    weights: list[list[float]]
    totals: list[float]


class SelectionOut(Schema):
    """What carries a selection, the bone with most of it first; `off` totals are not 1, `many` vertices have over four influences."""

    count: int
    bones: list[BoneShareOut]
    off: int
    many: int
