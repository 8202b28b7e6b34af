"""Which loops pose a frame: compiled once they are loaded, plain until then."""

from __future__ import annotations

import threading
from types import ModuleType
from typing import Any

import numpy as np

from tightseam.contact.clash import across_edges, crossings, deepest_inside, whole
from tightseam.contact.gap import nearest_pair
from tightseam.contact.tree import TriangleTree
from tightseam.deform import plain
from tightseam.geometry.reach import Reach, fans

_loaded: list[ModuleType] = []
_lock = threading.Lock()


def current() -> Any:
    """The module with the loops."""
    return _loaded[0] if _loaded else plain


def compiled_ready() -> bool:
    return bool(_loaded)


def load_compiled() -> None:
    """Load the compiled loops, from numba's cache where it is filled, and use them from now on."""
    with _lock:
        if _loaded:
            return
        from tightseam.deform import kernels

        _run_once(kernels)
        _march_once()
        _touch_once()
        _loaded.append(kernels)


def _run_once(kernels: Any) -> None:
    """Call every loop with the types a frame uses, so that none is compiled while somebody waits."""
    f, i, j = np.float32, np.int32, np.int64
    points, out = np.ones((3, 3), f), np.empty((3, 3), f)
    kernels.blend(out, points, np.zeros(2, j), *(np.zeros(0, j) for _ in range(3)), np.zeros(1, f), np.zeros(0, j), np.zeros(0, f))
    one = np.zeros(1, i)
    pushed = np.zeros((1, 3), f)
    pair, axes = np.zeros(2, f), np.eye(3, dtype=f)
    turned = np.zeros((3, 2), f)
    kernels.close_lids(
        out, np.arange(3, dtype=i), np.ones(3, np.uint8), np.zeros(3, f), np.array([0, 1, 0, 1], i), 2, np.zeros((2, 513), f), axes,
        np.zeros(3, f), f(0), f(1), pair, pair, turned,
    )  # fmt: skip
    kernels.turn_with(out, one, one, np.zeros(3, f), axes, turned)
    kernels.relieve(out, one, *(np.ones(1, f) for _ in range(3)), np.zeros(3, f), np.eye(3, dtype=f), np.ones((181, 64), f), pushed)
    kernels.follow(out, one, one, pushed)
    for width, skin in ((4, kernels.skin4), (8, kernels.skin8)):
        bones, weights = np.zeros((3, width), np.uint16), np.zeros((3, width), f)
        skin(out, points, bones, weights, np.zeros((1, 16), f))
        kernels.skin_dual(out, points, one, np.zeros(1, f), bones, weights, np.zeros((1, 8), f))
    kernels.seal_lips(
        out, points, one, *(np.zeros(1, f) for _ in range(3)), np.zeros((1, 2), f), f(1), pair, pair, np.zeros(16, f), np.zeros(16, f)
    )
    kernels.duals_of(np.eye(4)[None], np.zeros((1, 8), f))
    kernels.lip_motion(np.eye(4), np.eye(4), 0.5, np.zeros(3), 1.0, np.zeros(16, f), np.zeros(16, f))
    kernels.respond(np.zeros(1), np.zeros(1), np.zeros(1, j), np.zeros(1, j), np.zeros(1), np.ones(1), np.zeros((1, 2)))
    kernels.normals(out, points, np.array([[0, 1, 2, 2]], np.uint32), np.array([[0, 1, 2]], np.uint32))
    kernels.pose_bones(np.empty((1, 4, 4)), *(np.zeros((1, 3)) for _ in range(2)), np.eye(3)[None], np.zeros((1, 3)), np.full(1, -1, j))


def _touch_once() -> None:
    """The same for distances between surfaces."""
    corner = np.vstack([np.zeros(3), np.eye(3)])
    tree = TriangleTree(corner, np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]])).at(corner)
    tree.signed(corner, 1.0)
    tree.winding(corner)
    nearest_pair(tree, tree, 1.0)
    deepest_inside(tree, whole(tree), crossings(tree, tree)[:, 0], across_edges(tree.tree.triangles))


def _march_once() -> None:
    """The same for the distances of a brush."""
    one = fans(np.array([[0, 1, 2]]), 3)
    Reach(one).from_place(np.eye(3), 0, np.zeros(3), 1.0)
