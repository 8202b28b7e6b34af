"""A pose as the gauges see it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, TypeVar

from tightseam.contact.tree import PosedTree
from tightseam.geometry.types import Floats
from tightseam.seams.probe import Probe

T = TypeVar("T")


@dataclass(frozen=True)
class PosedHead:
    """Points per part (cm, float64), bone matrices (B, 4, 4), shaped neutral points per part, and what the pose claims to close."""

    points: Mapping[str, Floats]
    unskinned: Mapping[str, Floats]
    matrices: Floats
    closes: Sequence[str]
    _made: dict[object, Any] = field(default_factory=dict, repr=False)

    def once(self, key: object, make: Callable[[], T]) -> T:
        """What several ask for in this pose, made when it is first asked for."""
        if key not in self._made:
            self._made[key] = make()
        found: T = self._made[key]
        return found

    def tree(self, probe: Probe) -> PosedTree:
        """The tree of a probe in this pose."""
        return self.once(probe.tree, lambda: probe.tree.at(self.points[probe.part]))

    def body(self, probe: Probe) -> PosedTree:
        """The same with its holes closed: what is inside a skin that is open at the neck."""
        return self.once(probe.closed.tree, lambda: probe.closed.at(self.points[probe.part]))
