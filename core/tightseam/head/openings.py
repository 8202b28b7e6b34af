"""Lids and lips found on a bare mesh, without landmarks: the shortest loops round the openings of eyes and mouth."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_matrix, csr_matrix
from scipy.sparse.csgraph import dijkstra

from tightseam.geometry.geodesic import edge_lengths
from tightseam.geometry.normals import unit
from tightseam.geometry.polyline import arc_length
from tightseam.geometry.section import Polyline, section
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.frame import HeadFrame
from tightseam.head.surface import Surface

NEAR_EYE = 1.7  # eyeball radii within which lids are looked for
THROAT = 0.12  # cm wider than the narrowest place (or than touching) a pair of lip points may be to count as the lip line
DEEPEST_OVERLAP = 0.35  # cm that lips may overlap in the neutral
AS_CLOSE = 0.04  # cm by which a lip loop farther out may gape more than the closest one
LEAST_WIDTH = 1.0  # cm between the corners of a mouth
GAPING = 4.0  # cm of path that a cm of gap is worth, where the lip line has to be found without loops
LIP_DEPTH = 0.6  # cm behind the outermost narrow place within which the lip line is looked for
SHORTEST_MOUTH = 3.0  # cm of profile inside a mouth
STRIDE = 2  # points of a profile over which its direction is read
FACING = 0.5  # by how much more one lip must look up than the other: 2 where they lie flat on each other
FACE_DEPTH = 0.45  # of the head's depth, from the front: where the mouth may be


@dataclass(frozen=True)
class Opening:
    """A rim of the skin: `upper` and `lower` vertex lines from the first to the second corner, both included.

    Lids run from the inner to the outer corner, lips from the character's right to the left.
    """

    upper: Ints
    lower: Ints

    @property
    def loop(self) -> Ints:
        return np.concatenate([self.upper, self.lower[-2:0:-1]])


def find_lids(surface: Surface, frame: HeadFrame, centre: Floats, radius: float) -> Opening | None:
    """The lid margin round an eyeball: the shortest closed path over mesh edges that winds once about the gaze axis.

    Lids widen outwards and their lining widens behind the ball, so the margin is where the sleeve is tightest.
    """
    offset = (surface.points - centre) @ frame.axes.T
    distance = np.linalg.norm(offset, axis=1)
    near = (distance < NEAR_EYE * radius) & (offset[:, 2] > -0.2 * radius) & (distance > 0.7 * radius)
    index = np.flatnonzero(near)
    if len(index) < 12:
        return None
    loop = _tightest_loop(_edge_graph(surface, index), np.arctan2(offset[index, 1], offset[index, 0]))
    if loop is None:
        return None
    ring = index[loop]
    across = offset[ring, 0] * (1.0 if frame.local(centre[None])[0, 0] >= 0 else -1.0)
    return _split(ring, int(across.argmin()), int(across.argmax()), offset[ring, 1])


def find_lips(surface: Surface, frame: HeadFrame) -> Opening | None:
    """The lip line: from the narrowest throat of the middle profile round both mouth corners."""
    throat = _throat(surface, frame)
    if throat is None:
        return None
    upper, lower = throat
    local = frame.local(surface.points)
    ring = _lip_loop(surface, local, upper, lower)
    if ring is not None and np.ptp(local[ring, 0]) > LEAST_WIDTH:
        # lips may overlap, so that height does not tell which is the upper one: its middle vertex does
        return _split(ring, int(local[ring, 0].argmin()), int(local[ring, 0].argmax()), np.isin(ring, upper).astype(float))
    return _lip_paths(surface, local, upper, lower)


def _lip_loop(surface: Surface, local: Floats, upper: Ints, lower: Ints) -> Ints | None:
    """The closed edge loop through an upper and a lower middle vertex: of those where the lips are closest, the outermost."""
    found: list[tuple[float, float, Ints]] = []
    for start in upper.tolist():
        beside = surface.walker.neighbours(start)
        if not beside:
            continue
        path = surface.walker.walk(start, max(beside, key=lambda v: local[v, 0]))
        ring = np.array(path)
        across = ring[np.isin(ring, lower)]
        if len(ring) < 8 or surface.walker.opposite(path[-2], path[-1]) != start or not len(across):
            continue
        found.append((float(local[start, 1] - local[across, 1].max()), float(local[start, 2]), ring))
    if not found:
        return None
    closest = min(gap for gap, _, _ in found)
    return max((f for f in found if f[0] <= closest + AS_CLOSE), key=lambda f: f[1])[2]


def _lip_paths(surface: Surface, local: Floats, upper: Ints, lower: Ints) -> Opening | None:
    """Where no edge loop closes: the shortest paths over edges round both corners."""
    tolerance = 1e-3 + float(np.abs(local[np.concatenate([upper, lower]), 0]).max())
    halves = [_Half(surface, np.flatnonzero(local[:, 0] * side > -tolerance), upper, lower) for side in (-1.0, 1.0)]
    depth = [local[ends, 2].max() - local[ends, 2] for ends in (upper, lower)]
    gap = np.maximum(local[upper, 1][:, None] - local[lower, 1][None], 0)
    cost = sum(half.length for half in halves) + depth[0][:, None] + depth[1][None] + GAPING * gap
    if not np.isfinite(cost).any():
        return None
    u, l = np.unravel_index(int(cost.argmin()), cost.shape)
    lines = []
    for half, side in zip(halves, (-1.0, 1.0), strict=True):
        path = half.path(int(u), int(l))
        corner = int((local[path, 0] * side).argmax())
        lines.append((path[: corner + 1], path[corner:]))
    (upper_right, lower_right), (upper_left, lower_left) = lines
    if min(len(line) for pair in lines for line in pair) < 3:
        return None
    return Opening(np.concatenate([upper_right[::-1], upper_left[1:]]), np.concatenate([lower_right, lower_left[::-1][1:]]))


class _Half:
    """Shortest paths over the edges of one half of the face, from each of `upper` (U,) to each of `lower` (L,): `length` (U, L)."""

    def __init__(self, surface: Surface, index: Ints, upper: Ints, lower: Ints) -> None:
        self._index = index
        self._starts, self._ends = np.searchsorted(index, upper), np.searchsorted(index, lower)
        graph = _edge_graph(surface, index)
        distance, self._before = dijkstra(graph, indices=self._starts, return_predecessors=True)
        self.length = distance[:, self._ends]

    def path(self, u: int, l: int) -> Ints:
        steps = [int(self._ends[l])]
        while steps[-1] != self._starts[u]:
            steps.append(int(self._before[u, steps[-1]]))
        return np.asarray(self._index[steps[::-1]])


def middle_profile(surface: Surface, frame: HeadFrame) -> Polyline | None:
    """The longest line of the cut through the middle plane."""
    lines = section(surface.points, surface.triangles, frame.plane)
    return lines[0] if lines else None


def _throat(surface: Surface, frame: HeadFrame) -> tuple[Ints, Ints] | None:
    """Vertices of the upper and of the lower lip in the middle, where the inlet that the profile makes is about as narrow as it gets."""
    profile = middle_profile(surface, frame)
    if profile is None or len(profile.points) < 20:
        return None
    p = frame.local(profile.points)[:, 1:]
    arc = arc_length(p)
    depth = p[:, 1].max() - p[:, 1].min()
    front = p[:, 1] > p[:, 1].max() - FACE_DEPTH * depth
    if not front.any():
        return None
    gap = np.linalg.norm(p[:, None] - p[None], axis=2)
    inside = np.abs(arc[:, None] - arc[None])
    usable = front[:, None] & front[None] & (inside > SHORTEST_MOUTH) & (inside < 0.35 * arc[-1]) & (gap < 0.25 * inside)
    usable = np.triu(usable)
    if not usable.any():
        return None
    at = np.flatnonzero(front)
    upwards = at[p[at, 0].argmax()] > at[p[at, 0].argmin()]
    rise = p[None, :, 0] - p[:, None, 0] if upwards else p[:, None, 0] - p[None, :, 0]
    signed = np.where(rise >= 0, gap, -gap)  # negative where the lips overlap
    usable &= (signed > -DEEPEST_OVERLAP) & _face_each_other(p, upwards)
    if not usable.any():
        return None
    usable &= signed <= max(float(signed[usable].min()), 0.0) + THROAT
    i, j = np.unravel_index(np.where(usable, inside, -1).argmax(), usable.shape)
    usable &= (np.abs(arc - arc[i])[:, None] < LIP_DEPTH) & (np.abs(arc - arc[j])[None] < LIP_DEPTH)
    first, second = np.flatnonzero(usable.any(axis=1)), np.flatnonzero(usable.any(axis=0))
    upper, lower = (second, first) if upwards else (first, second)
    return _nearest_ends(surface, profile, upper), _nearest_ends(surface, profile, lower)


def _face_each_other(p: Floats, upwards: bool) -> Bools:
    """Do two points of a profile (K, 2), up and forward, look at each other as lips do, the one up and the other down, (K, K)? The skin of
    a lip and the lining behind it are near each other too, but look forward and back."""
    along = unit(np.roll(p, -STRIDE, axis=0) - np.roll(p, STRIDE, axis=0))
    looks_up = -along[:, 1] * (1 if upwards else -1)
    return np.asarray((looks_up[:, None] - looks_up[None]) * (1 if upwards else -1) > FACING)


def _nearest_ends(surface: Surface, line: Polyline, chosen: Ints) -> Ints:
    ends = line.edges[chosen]
    far = np.linalg.norm(surface.points[ends] - line.points[chosen][:, None], axis=2)
    return np.unique(ends[np.arange(len(ends)), far.argmin(axis=1)])


def _edge_graph(surface: Surface, index: Ints) -> csr_matrix:
    """Edge lengths among the vertices `index`, numbered as they stand there."""
    return edge_lengths(surface.points[index], surface.neighbours[index][:, index])


def _tightest_loop(graph: csr_matrix, angle: Floats) -> Ints | None:
    """The shortest cycle that winds once round, by Dijkstra on two sheets: crossing the cut at ±π leads to the other sheet."""
    n = len(angle)
    e = graph.tocoo()
    turn = angle[e.col] - angle[e.row]
    forward, backward = turn < -np.pi, turn > np.pi  # forward: over π to -π
    same = ~forward & ~backward
    rows = np.concatenate([e.row[same], e.row[same] + n, e.row[forward], e.row[backward] + n])
    columns = np.concatenate([e.col[same], e.col[same] + n, e.col[forward] + n, e.col[backward]])
    values = np.concatenate([e.data[same], e.data[same], e.data[forward], e.data[backward]])
    cover = coo_matrix((values, (rows, columns)), shape=(2 * n, 2 * n)).tocsr()
    starts = np.unique(e.row[forward])
    if not len(starts):
        return None
    length, before = dijkstra(cover, indices=starts, return_predecessors=True)
    round_trip = length[np.arange(len(starts)), starts + n]
    best = int(round_trip.argmin())
    if not np.isfinite(round_trip[best]):
        return None
    path = [int(starts[best]) + n]
    while path[-1] != starts[best]:
        path.append(int(before[best, path[-1]]))
    return np.array(path[1:]) % n


def _split(ring: Ints, first: int, second: int, height: Floats) -> Opening:
    """A closed ring cut at its two corners; `height` of its vertices is greater on average on the upper line."""
    n = len(ring)
    one = [(first + k) % n for k in range((second - first) % n + 1)]
    other = [(first - k) % n for k in range((first - second) % n + 1)]
    up, low = (one, other) if height[one].mean() > height[other].mean() else (other, one)
    return Opening(ring[up], ring[low])
