"""Which way hair runs, read from its surface."""

from __future__ import annotations

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import breadth_first_order, minimum_spanning_tree

from tightseam.geometry.adjacency import islands
from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints

EVEN = 0.15  # radians a cm by which a surface may turn and count as straight
LEAST = 1e-3  # unlikeness of two that are alike: a graph has no edges of weight 0


def strand_directions(points: Floats, normals: Floats, polygons: Polygons) -> Floats:
    """The tangent (N, 3) at each vertex along which the surface turns least: along a tuft, not round it. Within an island neighbours
    agree which end is which.

    The main direction of the edges at a vertex, each weighted by its length over the turn of the normal along it.
    """
    ends = np.stack([polygons.corners, polygons.corners[polygons.next_corner]], axis=1).astype(np.int64)
    edge = points[ends[:, 1]] - points[ends[:, 0]]
    length = np.linalg.norm(edge, axis=1)
    turn = np.linalg.norm(normals[ends[:, 1]] - normals[ends[:, 0]], axis=1)
    weight = length**2 / (turn + EVEN * length + 1e-12)
    along = unit(edge)
    tensor = np.zeros((len(points), 3, 3))
    for k in range(2):
        np.add.at(tensor, ends[:, k], along[:, :, None] * along[:, None] * weight[:, None, None])
    flat = np.eye(3) - normals[:, :, None] * normals[:, None]
    directions = np.linalg.eigh(flat @ tensor @ flat)[1][:, :, 2]
    return directions * _agreeing(directions, ends, islands(polygons, len(points)))[:, None]


def _agreeing(directions: Floats, ends: Ints, island: Ints) -> Floats:
    """Signs (N,) that make neighbours point one way, handed on from the first vertex of each island over the edges whose ends are most
    alike: not over the tip of a tuft, where no way is the right one."""
    count = len(directions)
    first = np.unique(island, return_index=True)[1]
    rows = np.concatenate([ends[:, 0], np.full(len(first), count)])
    columns = np.concatenate([ends[:, 1], first])
    unlike = 1 + LEAST - np.abs((directions[ends[:, 0]] * directions[ends[:, 1]]).sum(axis=1))
    graph = coo_matrix((np.concatenate([unlike, np.ones(len(first))]), (rows, columns)), (count + 1, count + 1)).tocsr()
    order, before = breadth_first_order(minimum_spanning_tree(graph), count, directed=False)
    depth = np.zeros(count + 1, np.int64)
    for vertex in order[1:].tolist():
        depth[vertex] = depth[before[vertex]] + 1
    signs = np.ones(count + 1)
    for step in range(2, int(depth.max(initial=0)) + 1):
        here = np.flatnonzero(depth == step)
        there = before[here]
        signs[here] = signs[there] * np.where((directions[here] * directions[there]).sum(axis=1) < 0, -1.0, 1.0)
    return signs[:count]
