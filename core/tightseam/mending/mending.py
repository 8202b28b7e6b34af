"""What a measured proposal is said to do."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from tightseam.findings.finding import Unit
from tightseam.mending.proposal import Kind
from tightseam.mix.compare import How
from tightseam.seams.effects import SideEffects

WORSE = ("new", "worse")
LEAST = 0.5  # of a cause that a way may leave and still be one


@dataclass(frozen=True)
class Effect:
    """A finding of the sweep that an edit changes: its size before and after, None where it is not over its limit."""

    how: How
    title: str
    moment: str
    before: float | None
    after: float | None
    limit: float
    unit: Unit


@dataclass(frozen=True)
class Mending:
    """A proposal that was measured. The cause had faults in `found` cells, and has some `left`; `effects` are what changes in the sweep,
    the cause first, `strip` what changes in the test poses, and `harms` counts what gets worse or is new in either; it is
    `clean` where the cause is gone and nothing is harmed. `measured` cells are those that it changes at all."""

    kind: Kind
    text: str
    edit: str
    params: dict[str, Any]
    found: int
    left: int
    measured: int
    effects: tuple[Effect, ...]
    strip: SideEffects
    harms: int
    clean: bool

    @property
    def worth(self) -> bool:
        """Does it put at least half of the cause right, and more good than harm?"""
        return self.left <= LEAST * self.found and len(self.effects) > 2 * sum(e.how in WORSE for e in self.effects)
