"""Overlap of two surfaces, exactly: which triangles cross, and the deepest point of one inside the body of the other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from tightseam.contact.compiled import loops
from tightseam.contact.tree import Marks, PosedTree
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Bools, Floats, Ints

PAIRS = 4096  # that are first made room for
CLOSE = 0.0005  # cm to which the deepest point is looked for,
CLOSE_ON_ITSELF = 0.002  # and that of a mesh in itself, where what is designed is known no better
OFF = 0.01  # cm off its own surface at which a mesh is looked for inside itself


@dataclass(frozen=True)
class Depth:
    """How deep a surface lies inside a body, cm; the triangle of the surface and the point (3,) on it; 0 and -1 where it does not."""

    depth: float
    triangle: int
    point: Floats


@dataclass(frozen=True)
class Body:
    """What a surface may lie inside: what winds round it, and the surface its depth is counted from.

    `counts` (T,) are the triangles of `near` from which depth counts, which `counted` is a tree of; where another one is the nearest it
    is no business of theirs. A mesh inside itself, `own`, is looked for a little off its surface, and only what looks against it counts.
    Of a body `crossed_whole` all crossings are told: a triangle that has none lies wholly inside or outside.
    """

    solid: PosedTree
    near: PosedTree
    counts: Bools
    counted: PosedTree
    own: bool = False
    crossed_whole: bool = False


def whole(solid: PosedTree) -> Body:
    """A closed part: depth is the distance to its surface."""
    return Body(solid, solid, np.ones(len(solid.tree.triangles), np.bool_), solid, crossed_whole=True)


def crossings(one: PosedTree, other: PosedTree, same: bool = False) -> Ints:
    """Rows (K, 2) of the triangles of two trees that cross. Of the `same` mesh those with a common vertex do not count, and of a tree
    with itself each pair counts once."""
    return _crossings(one, other, same, one.tree.every, other.tree.every)


def crossings_between(posed: PosedTree, sides: tuple[Bools, Bools]) -> Ints:
    """Rows (K, 2) of the triangles of a mesh that cross one another and have, between the two of them, vertices of both sides (N,)."""
    tree = posed.tree
    marks = np.empty(len(tree.triangles), np.uint8), np.empty(len(tree.second), np.uint8)
    loops("clash").mark(*map(read_only, sides), tree.triangles, tree.order, tree.second, tree.first, tree.last, *marks)
    kept = read_only(marks[0]), read_only(marks[1])
    return _crossings(posed, posed, True, kept, kept)


def _crossings(one: PosedTree, other: PosedTree, same: bool, marks: Marks, other_marks: Marks) -> Ints:
    room = PAIRS
    while True:
        out = np.empty((room, 2), np.int64)
        itself = same and one.tree is other.tree
        trees = (*one.nodes, one.boxes), (*other.nodes, other.boxes)
        found = int(loops("clash").crossings(same, itself, *trees, marks, other_marks, out))
        if found <= room:
            return out[:found]
        room = found


def deepest_inside(
    surface: PosedTree, body: Body, crossed: Ints, beside: Ints, designed: Floats | None = None, least: float = 0.0
) -> Depth:
    """The deepest point of a surface inside a body, to 0.005 mm (of a mesh in itself 0.02) or half a percent of its depth; what is less
    deep than `least` cm counts as none, and is told sooner.

    `crossed` (K,) are triangles of the surface that cross the body's, or from which else to start; `beside` (T, 3) the triangle across
    each edge, -1 for none. What is `designed` (T,) is taken from the depth.
    """
    count = len(surface.tree.triangles)
    start = np.unique(crossed)
    crosses = np.zeros(count, np.bool_)
    crosses[start] = True
    point = np.zeros(3)
    depth, triangle = loops("depth").deepest(
        read_only(start),
        crosses,
        body.crossed_whole,
        read_only(beside),
        OFF if body.own else 0.0,
        body.own,
        read_only(np.zeros(count) if designed is None else designed),
        (surface.points, surface.tree.triangles),
        body.solid.tree.closed,
        (*body.solid.nodes, body.solid.boxes, body.solid.far),
        (*body.near.nodes, body.near.boxes),
        read_only(body.counts),
        (*body.counted.nodes, body.counted.boxes),
        (CLOSE_ON_ITSELF if body.own else CLOSE, float(least)),
        point,
    )
    return Depth(float(depth) if triangle >= 0 else 0.0, int(triangle), point)


def deepest_of(surface: PosedTree, body: Body, crossed: Ints, beside: Ints, islands: Ints, least: float = 0.0) -> Depth:
    """The same of a surface with these `islands` (I,; a triangle of each), of which any may lie wholly inside the body."""
    corners = surface.points[surface.tree.triangles[islands, 0]]
    return deepest_inside(surface, body, np.concatenate([crossed, islands[body.solid.inside(corners)]]), beside, None, least)


def depth_in_itself(body: PosedTree, against: PosedTree, queries: Floats, ways: Floats) -> Floats:
    """How deep (Q,) points of a mesh that look along `ways` (Q, 3) lie inside it, to the nearest triangle that looks against them."""
    queries = read_only(queries, np.float64)
    out = np.empty(len(queries))
    loops("depth").opposing(queries, read_only(ways, np.float64), (*against.nodes, against.boxes), out)
    return np.asarray(np.where(body.inside(queries + OFF * ways) & np.isfinite(out), out, 0.0))


def across_edges(triangles: Ints) -> Ints:
    """The triangle across each edge (T, 3) of triangles (T, 3); -1 at a border, one of them where more meet."""
    ends = np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=2).reshape(-1, 2)
    low, high = ends.min(axis=1), ends.max(axis=1)
    order = np.lexsort((high, low))
    same = (low[order[1:]] == low[order[:-1]]) & (high[order[1:]] == high[order[:-1]])
    one, other = order[:-1][same], order[1:][same]
    beside = np.full(len(ends), -1, np.int64)
    beside[one], beside[other] = other // 3, one // 3
    return beside.reshape(-1, 3)


def islands_of(beside: Ints) -> Ints:
    """The first triangle of each island, from the triangles across each edge (T, 3)."""
    return np.asarray(np.unique(_islands(beside), return_index=True)[1])


def on_open_islands(beside: Ints) -> Bools:
    """Which triangles (T,) are of an island that has a border, from the triangles across each edge (T, 3)."""
    island = _islands(beside)
    return np.isin(island, island[(beside < 0).any(axis=1)])


def _islands(beside: Ints) -> Ints:
    count = len(beside)
    rows, other = np.repeat(np.arange(count), 3), beside.ravel()
    joined = csr_matrix((np.ones(int((other >= 0).sum())), (rows[other >= 0], other[other >= 0])), shape=(count, count))
    return np.asarray(connected_components(joined, directed=False)[1])
