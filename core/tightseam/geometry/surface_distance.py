"""Distance along a surface that does not tell how the surface was cut into polygons."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.distance import closest_points, to_segment
from tightseam.geometry.polyline import arc_share
from tightseam.geometry.read_only import read_only
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Bools, Floats, Ints


@dataclass(frozen=True)
class Places:
    """Places `points` (P, 3) of a surface, and the triangles (P,) they lie on."""

    points: Floats
    triangles: Ints

    def __getitem__(self, chosen: Bools | Ints) -> Places:
        return Places(self.points[chosen], self.triangles[chosen])


def places_on(mesh: SurfaceMesh, points: Floats) -> Places:
    """The places of the surface nearest to some points (P, 3)."""
    _, triangles, closest = closest_points(points, mesh.points, mesh.triangles)
    return Places(np.ascontiguousarray(closest), np.asarray(triangles, np.int64))


def distance_to_places(mesh: SurfaceMesh, places: Places, limit: float = np.inf) -> Floats:
    """Distance (N,), cm, from each vertex along the surface to the nearest of some places; infinite, or longer than it is, beyond `limit`.

    Fast marching of a round front from each place (Novotni & Klein 2002) over the intrinsic Delaunay triangles.
    """
    from tightseam.geometry.fronts import from_places  # compiled loops are loaded when they are first needed

    around = mesh.fans
    ring = (read_only(x) for x in (around.triangles, around.start, around.order))
    points = read_only(np.ascontiguousarray(mesh.points, np.float64))
    found: Floats = from_places(*_lengths(mesh), points, *ring, places.triangles, places.points, limit)
    return found


def distance_to_line(mesh: SurfaceMesh, line: Ints) -> tuple[Floats, Floats]:
    """Distance (N,), cm, along the surface to a `line` (L,) of vertices, and how far along the line the nearest place of it is, (N,), 0 at
    its beginning and 1 at its end."""
    points, arc = mesh.points, arc_share(mesh.points[line])
    seeds: list[Ints] = [line]
    offsets: list[Floats] = [np.zeros(len(line))]
    values: list[Floats] = [arc]
    for k, (a, b) in enumerate(zip(line[:-1].tolist(), line[1:].tolist(), strict=True)):
        beside = np.union1d(_around(mesh, a), _around(mesh, b))
        off, t = to_segment(points[beside], points[a], points[b])
        seeds.append(beside)
        offsets.append(off)
        values.append(arc[k] + (arc[k + 1] - arc[k]) * t)
    return _spread(mesh, np.concatenate(seeds), np.concatenate(offsets), np.concatenate(values))


def distance_onwards(mesh: SurfaceMesh, known: Floats, near: float) -> Floats:
    """Distance (N,), cm, to a region whose distance through space is `known` (N,): that up to `near`, and from there along the surface."""
    seeds = np.flatnonzero(known < near)
    return _spread(mesh, seeds, known[seeds], np.zeros(len(seeds)))[0]


def _spread(mesh: SurfaceMesh, seeds: Ints, offsets: Floats, values: Floats) -> tuple[Floats, Floats]:
    from tightseam.geometry.fronts import from_line

    found: tuple[Floats, Floats] = from_line(*_lengths(mesh), np.asarray(seeds, np.int64), offsets, values)
    return found


def _lengths(mesh: SurfaceMesh) -> tuple[np.ndarray, ...]:
    found = mesh.intrinsic
    return tuple(read_only(x) for x in (found.triangles, found.lengths, found.fans.start, found.fans.order))


def _around(mesh: SurfaceMesh, vertex: int) -> Ints:
    """The vertices of the triangles round one."""
    fans = mesh.fans
    return np.unique(fans.triangles[fans.order[fans.start[vertex] : fans.start[vertex + 1]]])
