"""A part as the generator makes it, before it becomes part of a document."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from tightseam.demo.shape import Array


@dataclass
class RawPart:
    """Points (N, 3) in cm, polygons as lists, vertex colours (N, 3) or polygon colours (F, 3) in sRGB 0..1.

    `pivot` (3,) and `transform` (3, 3) are what a file would say beside the points.
    """

    name: str
    kind: str
    points: Array
    polygons: list[list[int]]
    colours: Array = None
    face_colours: Array = None
    sets: dict[str, list[int]] = field(default_factory=dict)
    pivot: Array = None
    transform: Array = None

    def mirrored(self, name: str) -> RawPart:
        return RawPart(name, self.kind, self.points * [-1, 1, 1], [p[::-1] for p in self.polygons], self.colours, self.face_colours)


def consistent_winding(polygons: Sequence[Sequence[int]], points: Array) -> list[list[int]]:
    """The polygons, each island turned so that neighbours agree and the signed volume is positive."""
    edge: dict[tuple[int, int], list[tuple[int, bool]]] = {}
    for f, p in enumerate(polygons):
        for a, b in zip(p, [*p[1:], p[0]], strict=True):
            edge.setdefault((min(a, b), max(a, b)), []).append((f, a < b))
    flipped: dict[int, bool] = {}
    for seed in range(len(polygons)):
        if seed in flipped:
            continue
        flipped[seed] = False
        stack, island = [seed], [seed]
        while stack:
            f = stack.pop()
            p = polygons[f]
            for a, b in zip(p, [*p[1:], p[0]], strict=True):
                for g, forward in edge[(min(a, b), max(a, b))]:
                    if g not in flipped:
                        flipped[g] = (forward == (a < b)) ^ flipped[f]
                        stack.append(g)
                        island.append(g)
        if _volume(polygons, points, island, flipped) < 0:
            for f in island:
                flipped[f] = not flipped[f]
    return [list(p)[::-1] if flipped[f] else list(p) for f, p in enumerate(polygons)]


def _volume(polygons: Sequence[Sequence[int]], points: Array, island: list[int], flipped: dict[int, bool]) -> float:
    """Six times the signed volume of an island about its middle."""
    fans = [(f, q[0], q[k], q[k + 1]) for f in island for q in [polygons[f]] for k in range(1, len(q) - 1)]
    table = np.array(fans)
    centre = points[np.unique(table[:, 1:])].mean(axis=0)
    a, b, c = (points[table[:, k]] - centre for k in (1, 2, 3))
    sign = np.where([flipped[f] for f in table[:, 0].tolist()], -1.0, 1.0)
    return float((sign * (a * np.cross(b, c)).sum(axis=1)).sum())
