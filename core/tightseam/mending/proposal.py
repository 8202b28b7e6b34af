"""An edit that may put a cause of the mix right."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from tightseam.edits.registry import Step

Kind = Literal["weights", "carrier", "shape", "relief", "damp", "cap", "needs", "range", "corrective", "damp and corrective"]


@dataclass(frozen=True)
class Proposal:
    """An edit that has not been tried, in words. Those of one `family` do the same, each more than the one before. One that is `strong`
    takes so much of an expression that a corrective is less."""

    kind: Kind
    text: str
    step: Step
    family: str
    strong: bool = False
