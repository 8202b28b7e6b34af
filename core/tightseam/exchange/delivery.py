"""What a file delivers: meshes as they were made, before anybody says what they are."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from tightseam.document.make import make_point
from tightseam.document.model import WORLD, Point, Turn
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Mesh:
    """A mesh of a file. `points` (N, 3) stand where the file's transforms put them, in the file's unit.

    `source` (N,) is the place of each vertex in the file's own list of `file_count` vertices, `split` (file_count,) for files that
    split vertices the vertex each became. `linear` (3, 3) and `pivot` (3,) are those of the transform that was applied, None for none.
    `targets` are offsets (N, 3) by name; `weights` (N, J) dense over the joints of the delivery.
    """

    name: str
    points: Floats
    polygons: Polygons
    file_count: int
    source: Ints | None = None
    split: Ints | None = None
    colours: Floats | None = None
    linear: Floats | None = None
    pivot: Floats | None = None
    targets: dict[str, Floats] = field(default_factory=dict)
    weights: Floats | None = None


@dataclass(frozen=True)
class Joint:
    """A joint of a skin: where it stands in the neutral, in the file's unit, and its own axes there (rows of a 3x3)."""

    name: str
    parent: str | None
    base: Point
    axes: Turn = WORLD


@dataclass(frozen=True)
class Delivery:
    """One file taken apart. `unit_cm` is None where the format does not say; `notes` are things the rigger should know."""

    file: str
    meshes: tuple[Mesh, ...]
    unit_cm: float | None = None
    joints: tuple[Joint, ...] = ()
    notes: tuple[str, ...] = ()


def joint_at(name: str, parent: str | None, frame: Floats) -> Joint:
    """A joint from its frame in the neutral (4, 4), column vectors: scale and shear are dropped, the nearest axes at right angles kept."""
    u, _, vt = np.linalg.svd(frame[:3, :3])
    axes = (u @ np.diag([1, 1, np.sign(np.linalg.det(u @ vt))]) @ vt).T
    return Joint(name, parent, make_point(frame[:3, 3]), tuple(float(x) for x in axes.ravel()))  # type: ignore[arg-type]


def transformed(mesh: Mesh, matrix: Floats) -> Mesh:
    """The mesh under a transform (4, 4, column vectors), which is remembered as far as it is more than nothing."""
    linear, shift = matrix[:3, :3], matrix[:3, 3]
    turned = np.abs(linear - np.eye(3)).max() > 1e-9
    moved = np.abs(shift).max() > 1e-9
    polygons = mesh.polygons
    if np.linalg.det(linear) < 0:
        polygons = reversed_winding(polygons)  # a mirrored mesh would be inside out
    return replace(
        mesh,
        points=mesh.points @ linear.T + shift,
        polygons=polygons,
        linear=linear if turned else None,
        pivot=shift if moved else None,
        targets={name: offsets @ linear.T for name, offsets in mesh.targets.items()},
    )


def reversed_winding(polygons: Polygons) -> Polygons:
    return Polygons.from_lists([p[::-1] for p in polygons.lists()])
