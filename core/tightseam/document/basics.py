"""What the nouns of a character are made of: points, spans, curves."""

from __future__ import annotations

from typing import Literal

from pydantic import ConfigDict
from pydantic.dataclasses import dataclass

Side = Literal["L", "R", "C"]
OTHER_SIDE: dict[Side, Side] = {"L": "R", "R": "L"}
Point = tuple[float, float, float]
Turn = tuple[float, float, float, float, float, float, float, float, float]
Span = tuple[float, float]
Spans = tuple[Span, Span, Span]  # about or along x, y, z
Axis = Literal["x", "y", "z"]
STRICT = ConfigDict(extra="forbid", allow_inf_nan=False)


@dataclass(frozen=True, config=STRICT)
class CurveKey:
    """A key of a curve; without a `slope` of its own it gets one with which the curve never overshoots."""

    at: float
    value: float
    slope: float | None = None


CurveKeys = tuple[CurveKey, ...]
