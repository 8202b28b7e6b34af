"""All that light needs to know of a head, baked at rest: it hangs on the meshes and their colours alone."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part, PartKind
from tightseam.geometry.adjacency import neighbours
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.shading.iris import PaintedEye, painted_eye
from tightseam.shading.sky import open_sky, thickness
from tightseam.shading.strands import strand_directions

IN_STRANDS: tuple[PartKind, ...] = ("hair", "whiskers", "brow")
IN_THE_MOUTH: tuple[PartKind, ...] = ("teeth upper", "teeth lower", "tongue")
CASTS_NONE: tuple[PartKind, ...] = ("lash",)
LIFT = 0.001  # of the head's height: how far rays begin off the surface
LIPS = 0.32  # of the mouth's width: how far behind their line the lining is still that of the lips
THIN = (0.25, 1.15)  # cm: as thin as can be, and too thick for light
LINE = 14  # points along each margin of the lids


@dataclass(frozen=True)
class PartShading:
    """Per vertex of a part (N,): the open sky it sees, 0 to 1, and how thin the skin is there, 0 to 1; the way strands run (N, 3); how an
    eye is painted, and the vertices of the skin along the upper and the lower margin of its lids, each from corner to corner."""

    sky: Floats
    thin: Floats | None = None
    strands: Floats | None = None
    eye: PaintedEye | None = None
    lids: tuple[Ints, Ints] | None = None


@dataclass(frozen=True)
class _Mesh:
    part: Part
    points: Floats
    polygons: Polygons
    triangles: Ints
    normals: Floats
    first: int

    @property
    def rows(self) -> slice:
        return slice(self.first, self.first + len(self.points))


def baked(character: Character, store: ArrayStore) -> dict[str, PartShading]:
    """What light needs to know of each part.

    A mouth is baked open and lids apart, by leaving the lips and lids out of what hides the sky from what lies behind them: a pose that
    shows it must not find it black.
    """
    meshes = _meshes(character, store)
    if not meshes:
        return {}
    points, normals = (np.vstack([getattr(m, name) for m in meshes]) for name in ("points", "normals"))
    lift = LIFT * float(max(np.ptp(points, axis=0).max(), 1e-6))
    hides = [m for m in meshes if m.part.kind not in CASTS_NONE]
    every = np.vstack([np.zeros((0, 3), np.int64), *(m.triangles + m.first for m in hides)])
    sky = open_sky(points, normals, points, every, lift)
    for within, opened in _covered(meshes, store, len(points)):
        cover = opened[every].all(axis=1)
        sky[within] = open_sky(points[within], normals[within], points, every[~cover], lift)
    return {m.part.name: _shading(m, sky[m.rows], meshes, store, lift) for m in meshes}


def _meshes(character: Character, store: ArrayStore) -> list[_Mesh]:
    made: list[_Mesh] = []
    first = 0
    for part in character.parts:
        points, own = np.asarray(store.get(part.points), np.float64), polygons(store, part)
        triangles = np.asarray(triangulate(points, own), np.int64)
        made.append(_Mesh(part, points, own, triangles, vertex_normals(points, triangles), first))
        first += len(points)
    return made


def _covered(meshes: list[_Mesh], store: ArrayStore, count: int) -> list[tuple[Bools, Bools]]:
    """What lies behind lips or lids, and the vertices of the skin before it, which move away: pairs of (N,)."""
    pairs = []
    for skin in (m for m in meshes if m.part.kind == "skin"):
        lining = _of_set(skin, store, ["mouth_lining"], count)
        if lining.any():
            outside = np.zeros(count, bool)
            outside[skin.rows] = True
            behind = lining.copy()
            for m in meshes:
                if m.part.kind in IN_THE_MOUTH:
                    behind[m.rows] = True
            pairs.append((behind, outside & ~(lining & ~_near_lips(skin, store, count))))
        lids = _of_set(skin, store, [f"lid_{lid}_{side}" for lid in ("upper", "lower") for side in "LR"], count)
        if lids.any():
            pairs.append((lids, lids))
    return pairs


def _near_lips(skin: _Mesh, store: ArrayStore, count: int) -> Bools:
    """The lining of the lips: what of it lies near their line goes with them."""
    line = skin.points[_of_set(skin, store, ["lip_upper_line", "lip_lower_line"], count)[skin.rows]]
    near = np.zeros(count, bool)
    if len(line):
        near[skin.rows] = cKDTree(line).query(skin.points)[0] < LIPS * np.ptp(line, axis=0).max()
    return near


def _of_set(mesh: _Mesh, store: ArrayStore, names: list[str], count: int) -> Bools:
    found = np.zeros(count, bool)
    for name in names:
        if name in mesh.part.sets:
            found[np.asarray(store.get(mesh.part.sets[name]), np.int64) + mesh.first] = True
    return found


def _shading(mesh: _Mesh, sky: Floats, meshes: list[_Mesh], store: ArrayStore, lift: float) -> PartShading:
    around = neighbours(mesh.polygons, len(mesh.points))
    ring = np.asarray(around.sum(axis=1)).ravel()
    smooth = (sky + around @ sky) / (1 + ring)  # the rays of neighbours are their own: their mean has less noise
    kind = mesh.part.kind
    if kind == "skin":
        deep = thickness(mesh.points, mesh.normals, mesh.triangles, lift)
        return PartShading(smooth, thin=np.clip((THIN[1] - deep) / (THIN[1] - THIN[0]), 0, 1))
    if kind in IN_STRANDS:
        return PartShading(smooth, strands=strand_directions(mesh.points, mesh.normals, mesh.polygons))
    if kind == "eye":
        return PartShading(smooth, eye=_eye(mesh, store), lids=_lids(mesh.part.side, meshes, store))
    return PartShading(smooth)


def _eye(mesh: _Mesh, store: ArrayStore) -> PaintedEye | None:
    part, own = mesh.part, mesh.polygons
    if part.face_colours:
        colours = np.asarray(store.get(part.face_colours), np.float64)
    elif part.colours:
        corners = np.asarray(store.get(part.colours), np.float64)[own.corners]
        colours = np.stack([np.bincount(own.face_of_corner, corners[:, k], len(own)) for k in range(3)], axis=1) / own.sizes[:, None]
    else:
        return None
    return painted_eye(mesh.points, own, colours)


def _lids(side: str | None, meshes: list[_Mesh], store: ArrayStore) -> tuple[Ints, Ints] | None:
    names = [f"lid_{lid}_margin_{side}" for lid in ("upper", "lower")]
    skin = next((m.part for m in meshes if m.part.kind == "skin" and all(n in m.part.sets for n in names)), None)
    if skin is None:
        return None
    upper, lower = (np.asarray(store.get(skin.sets[n]), np.int64) for n in names)
    if min(len(upper), len(lower)) < 2:
        return None
    up, low = (line[np.linspace(0, len(line) - 1, LINE).round().astype(int)] for line in (upper, lower))
    return up, low
