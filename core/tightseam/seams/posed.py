"""A pose as the gauges see it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from tightseam.contact.tree import PosedTree, TriangleTree
from tightseam.geometry.types import Floats
from tightseam.seams.probe import Probe


@dataclass(frozen=True)
class PosedHead:
    """Points per part (cm, float64), bone matrices (B, 4, 4), shaped neutral points per part, and what the pose claims to close."""

    points: Mapping[str, Floats]
    unskinned: Mapping[str, Floats]
    matrices: Floats
    closes: Sequence[str]
    _trees: dict[TriangleTree, PosedTree] = field(default_factory=dict, repr=False)

    def tree(self, probe: Probe) -> PosedTree:
        """The tree of a probe in this pose; refitted once, for all seams that ask for it."""
        if probe.tree not in self._trees:
            self._trees[probe.tree] = probe.tree.at(self.points[probe.part])
        return self._trees[probe.tree]

    def body(self, probe: Probe) -> PosedTree:
        """The same with its holes closed: what is inside a skin that is open at the neck."""
        tree = probe.closed.tree
        if tree not in self._trees:
            self._trees[tree] = probe.closed.at(self.points[probe.part])
        return self._trees[tree]
