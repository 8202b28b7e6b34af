"""Flat cuts through a mesh."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Polyline:
    """One line of a cut: `points` (K, 3) in order; `edges` (K, 2) the mesh edge each of them lies on."""

    points: Floats
    edges: Ints
    closed: bool

    @property
    def outline(self) -> Floats:
        """The points (K, 3) to draw it by: a closed line comes back to its first."""
        return np.concatenate([self.points, self.points[:1]]) if self.closed else self.points

    @property
    def length(self) -> float:
        return float(np.linalg.norm(np.diff(self.points, axis=0), axis=1).sum())


def section(points: Floats, triangles: Ints, plane: Plane) -> list[Polyline]:
    """Where a plane cuts triangles (T, 3), as chained lines, the longest first.

    Vertices that lie on the plane count as in front of it, so that each cut triangle is crossed at two edges.
    """
    height = plane.distance(points)
    front = height >= 0
    sides = [front[triangles[:, k]] for k in range(3)]
    cut = triangles[(sides[0] != sides[1]) | (sides[0] != sides[2])].astype(np.int64)
    if not len(cut):
        return []
    ends = np.sort(np.stack([cut, np.roll(cut, -1, axis=1)], axis=2), axis=2)  # (T, 3, 2)
    crosses = front[ends[..., 0]] != front[ends[..., 1]]
    pairs = ends[crosses].reshape(-1, 2, 2)
    key = pairs[..., 0] * len(points) + pairs[..., 1]
    unique, number = np.unique(key, return_inverse=True)
    edge = np.stack([unique // len(points), unique % len(points)], axis=1)
    h = height[edge]
    t = np.clip(h[:, 0] / (h[:, 0] - h[:, 1]), 0, 1)
    at = points[edge[:, 0]] + t[:, None] * (points[edge[:, 1]] - points[edge[:, 0]])
    lines = []
    for chain, closed in _chains(number.reshape(-1, 2), len(unique)):
        lines.append(Polyline(at[chain], edge[chain], closed))
    return sorted(lines, key=lambda line: -line.length)


def _chains(links: Ints, count: int) -> list[tuple[Ints, bool]]:
    beside: list[list[int]] = [[] for _ in range(count)]
    for a, b in links.tolist():
        beside[a].append(b)
        beside[b].append(a)
    used = np.zeros(count, bool)
    chains = []
    starts = [k for k in range(count) if len(beside[k]) == 1] + list(range(count))
    for start in starts:
        if used[start]:
            continue
        chain = [start]
        used[start] = True
        while True:
            following = next((n for n in beside[chain[-1]] if not used[n]), None)
            if following is None:
                break
            used[following] = True
            chain.append(following)
        chains.append((np.array(chain), len(chain) > 2 and chain[0] in beside[chain[-1]]))
    return chains
