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
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.reach import Reach
from tightseam.geometry.read_only import read_only
from tightseam.geometry.surface_distance import distance_to_line, distance_to_places, places_on
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import AnyArray

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
        _merge_once()
        _touch_once()
        _loaded.append(kernels)


def _run_once(kernels: Any) -> None:
    """Call every loop with the types a frame uses, so that none is compiled while somebody waits."""
    f, i, j = np.float32, np.int32, np.int64
    points, out, one = read_only(np.ones((3, 3), f)), np.empty((3, 3), f), read_only(np.zeros(1, i))
    no_runs = [read_only(np.zeros(n, j)) for n in (2, 0, 0, 0)]
    kernels.blend(out, points, *no_runs, _ones(1), read_only(np.zeros(0, j)), _ones(0))
    pair, axes, three = _ones(2), read_only(np.eye(3, dtype=f)), read_only(np.zeros(3, i))
    lids, still, ball = read_only(np.zeros(2)), read_only(np.eye(4)), read_only(np.eye(3))
    kernels.close_lids(
        out, read_only(np.arange(3, dtype=i)), read_only(np.zeros(3, np.uint8)), _ones(3), three, read_only(np.array([0, 1, 0, 1], i)), 2,
        _ones(2, 513), axes, _ones(3), f(0), f(1), one, one, lids, lids,
    )  # fmt: skip
    kernels.relieve(
        out, one, *[_ones(1)] * 4, one, _ones(181, 64), one, one, lids, ball, read_only(np.zeros(3)),
    )  # fmt: skip
    path = _ones(2, 1, 3)
    kernels.add_between(out, one, read_only(np.zeros(1, np.uint8)), lids, path, path[None], lids, lids)
    kernels.turn_about(out, one, read_only(np.zeros(1, np.uint8)), _ones(1), read_only(np.zeros(3)), read_only(np.zeros((2, 3, 3))))
    kernels.turn_eyes(np.empty((1, 3, 3)), np.empty((1, 3)), still[None], 0, read_only(np.zeros(1, j)), read_only(np.zeros((1, 3))))
    tables = read_only(np.zeros((2, 3, 721)))
    kernels.move_lids(np.empty(2), np.empty(2), lids[:, None], ball[None], read_only(np.zeros(1, j)), read_only(np.ones(1)), tables)
    bones = read_only(np.zeros((3, 4), np.uint16))
    kernels.skin(out, points, bones, _ones(3, 4), _ones(1, 16))
    kernels.skin_dual(out, points, one, _ones(1), bones, _ones(3, 4), _ones(1, 8))
    kernels.seal_lips(out, points, one, _ones(1), _ones(1), _ones(1), _ones(1, 2), f(1), pair, pair, _ones(16), _ones(16))
    kernels.duals_of(still[None], np.zeros((1, 8), f))
    kernels.lip_motion(still, still, 0.5, read_only(np.zeros(3)), 1.0, np.zeros(16, f), np.zeros(16, f))
    zero, at = read_only(np.zeros(1)), read_only(np.zeros(1, j))
    kernels.respond(np.zeros(1), zero, at, at, zero, read_only(np.ones(1)), read_only(np.zeros((1, 2))))
    kernels.normals(out, points, read_only(np.array([[0, 1, 2, 2]], np.uint32)), read_only(np.array([[0, 1, 2]], np.uint32)))
    flat = read_only(np.zeros((1, 3)))
    kernels.pose_bones(np.empty((1, 4, 4)), flat, flat, read_only(np.eye(3)[None]), flat, read_only(np.full(1, -1, j)))


def _ones(*shape: int) -> AnyArray:
    return read_only(np.ones(shape, np.float32))


def _touch_once() -> None:
    """The same for distances between surfaces."""
    corner = np.vstack([np.zeros(3), np.eye(3)])
    tree = TriangleTree(corner, np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]])).at(corner)
    tree.signed(corner, 1.0)
    tree.winding(corner)
    nearest_pair(tree, tree, 1.0)
    deepest_inside(tree, whole(tree), crossings(tree, tree)[:, 0], across_edges(tree.tree.triangles))


def _merge_once() -> None:
    """The same for weights that are stored."""
    from tightseam.weights.merge import merge

    kinds = (np.int32, np.float32, np.bool_, np.int64, np.float64)
    merge(np.empty(0, np.int32), np.empty(0, np.float32), *(read_only(np.zeros(0), kind) for kind in kinds))


def _march_once() -> None:
    """The same for distances along a surface."""
    mesh = SurfaceMesh(np.eye(3), Polygons.from_lists([[0, 1, 2]]))
    Reach(mesh.fans).from_place(mesh.points, 0, np.zeros(3), 1.0)
    distance_to_places(mesh, places_on(mesh, np.zeros((1, 3))))
    distance_to_line(mesh, np.arange(2))
