"""What the API of the Shapes station takes and gives."""

from typing import Literal

from ninja import Schema
from pydantic import Field
from tightseam.shapes.sculpt import SculptDab, Sculpting
from tightseam.shapes.sheet import ShapeRow


class OrderOut(Schema):
    """What comes first on a part that both shapes and bones move."""

    part: str
    first: Literal["shapes", "bones"]


class UnitOut(Schema):
    """An action unit of the starter set."""

    number: str
    label: str


class ShapesOut(Schema):
    """The sheet. `alone` counts the vertices of a part, where there are any, that nothing stands for on its other side."""

    rows: list[ShapeRow]
    alone: dict[str, int]
    orders: list[OrderOut]
    units: list[UnitOut]


class ListOut(Schema):
    """A name list that ships with the application."""

    key: str
    name: str
    about: str


class NamesIn(Schema):
    """A list that ships by its `key`, or the `text` of a `file` of one's own (JSON or CSV)."""

    revision: int
    key: str | None = None
    file: str = Field(default="", max_length=200)
    text: str = Field(default="", max_length=2_000_000)


class WantedOut(Schema):
    name: str
    meaning: str


class NamesOut(Schema):
    """How our names stand to a list: `same` in both, `near` pairs (ours, theirs), theirs that are `missing`, ours that are
    `extra`."""

    name: str
    same: list[str]
    near: list[tuple[str, str]]
    missing: list[WantedOut]
    extra: list[str]


class LeftIn(Schema):
    """A pose of the bones to take out of a shape."""

    revision: int
    shape: str
    values: dict[str, float] = Field(default={}, max_length=5000)


class LeftOut(Schema):
    """How far, mm, the bones move what the shape moves at most, and what would be left between shape and bone together and what the shape
    gave."""

    bones: float
    left: float


class SculptIn(Schema):
    """Dabs of a stroke that is being sculpted. `token` names the stroke, `first` is how many dabs of it came before these."""

    revision: int
    token: str = Field(min_length=8, max_length=64)
    sculpting: Sculpting
    first: int = Field(ge=0)
    dabs: list[SculptDab] = Field(min_length=1, max_length=500)
