"""Where hair stands on a skin."""

from __future__ import annotations

import numpy as np
from scipy.sparse.csgraph import connected_components

from tightseam.contact.caps import closed
from tightseam.contact.tree import TriangleTree
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Part
from tightseam.geometry.adjacency import neighbours
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Bools, Floats, Ints

ROOTS = "roots"  # the set of a part's vertices that stand on the skin
UNSEEN = "mouth_lining"  # a set of the skin on which nothing stands, however near it comes from inside a lip
ON = 0.02  # cm over the skin up to which a vertex stands on it
DEEP = 0.05  # cm under it from which a vertex no longer stands at the skin
LOOSE = 0.3  # cm over it up to which a strand does that touches it nowhere


def seen(triangles: Ints, skin: Part, store: ArrayStore) -> Ints:
    """The triangles of a skin that hair can stand on: not the lining of a mouth, near as it comes from inside a lip."""
    return triangles[~np.isin(triangles, vertex_set(store, skin, UNSEEN)).any(axis=1)] if UNSEEN in skin.sets else triangles


def heights(points: Floats, skin: Floats, triangles: Ints, seen: Ints) -> Floats:
    """How high points (N, 3) are over those triangles of a skin (M, 3) that are `seen`, negative inside it."""
    distance = TriangleTree(skin, seen).at(skin).closest(points)[0]
    return np.where(closed(skin, triangles).at(skin).inside(points), -distance, distance)


def strand_roots(height: Floats, polygons: Polygons) -> Ints:
    """The vertices by which strands stand on the skin, from how high (N,) each vertex is over it: of each island the patch on or under
    the skin that goes deepest, so that a tip which dips in elsewhere is no root, and of that what is just at the skin: what lies deep in
    the flesh swings with every tilt of it. Of an island that touches the skin nowhere the nearest vertex."""
    count = len(height)
    joined = neighbours(polygons, count)
    island = connected_components(joined, directed=False)[1]
    on = np.flatnonzero(height <= ON)
    patch = np.full(count, -1)
    patch[on] = connected_components(joined[on][:, on], directed=False)[1]
    order = np.lexsort((height, island))
    deepest = order[np.unique(island[order], return_index=True)[1]]
    standing = deepest[height[deepest] <= ON]
    loose = deepest[(height[deepest] > ON) & (height[deepest] <= LOOSE)]
    rooted = np.flatnonzero(np.isin(patch, patch[standing]) & (patch >= 0))
    highest = np.full(count, -np.inf)
    np.maximum.at(highest, patch[rooted], height[rooted])
    return np.union1d(rooted[height[rooted] >= np.minimum(highest[patch[rooted]], -DEEP)], loose)


def over_tufts(values: Floats, roots: Ints, tuft: Ints) -> tuple[Floats, Bools]:
    """For each vertex the mean (N, K) of what `values` (R, K) are at the `roots` (R,) of its `tuft` (N,), 0 where that has none; and
    whether it has (N,)."""
    count = int(tuft.max(initial=-1)) + 1
    sums, rooted = np.zeros((count, values.shape[1])), np.bincount(tuft[roots], minlength=count)
    np.add.at(sums, tuft[roots], values)
    return (sums / np.maximum(rooted, 1)[:, None])[tuft], (rooted > 0)[tuft]


def lash_feet(points: Floats, skin: Floats, roots: Ints) -> Ints:
    """The vertex of a lash (N, 3) that is nearest to each vertex of the skin (M, 3) which some of it is rooted at, by its `roots` (N,)."""
    off = np.linalg.norm(points - skin[roots], axis=1)
    order = np.lexsort((off, roots))
    return np.sort(order[np.unique(roots[order], return_index=True)[1]])
