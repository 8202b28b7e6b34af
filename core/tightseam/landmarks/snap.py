"""Where a landmark that is let go near the skin comes to rest."""

from __future__ import annotations

from typing import Literal

import numpy as np

from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats, Ints
from tightseam.head.surface import Surface

Snap = Literal["surface", "vertex", "edge loop"]


def snapped(point: Floats, surface: Surface, to: Snap, start: Floats | None = None) -> Floats:
    """The point (3,) of a skin nearest to `point`: anywhere on it, at a vertex, or on the edge loops through the vertex next to `start`."""
    if to == "vertex":
        return np.asarray(surface.points[surface.nearest_vertex(point)])
    if to == "edge loop":
        lines = _loops_through(surface, surface.nearest_vertex(point if start is None else start))
        found = [_nearest_on_line(point, surface.points[line]) for line in lines]
        if found:
            return min(found, key=lambda p: float(np.linalg.norm(p - point)))
    return np.asarray(surface.closest(point[None])[0])


def mirrored_onto(point: Floats, plane: Plane, surface: Surface | None) -> Floats:
    """The mirror image of a point (3,), brought onto the skin where one is given."""
    image = plane.mirrored(point[None])[0]
    return image if surface is None else snapped(image, surface, "surface")


def _loops_through(surface: Surface, vertex: int) -> list[Ints]:
    """The edge loops through a vertex, each walked both ways as far as it goes."""
    lines: dict[frozenset[int], Ints] = {}
    for beside in sorted(surface.walker.neighbours(vertex)):
        path = surface.walker.walk(vertex, beside)
        if surface.walker.opposite(path[-2], path[-1]) == vertex:
            path = [*path, vertex]
        lines[frozenset(path)] = np.array(path)
    return list(lines.values())


def _nearest_on_line(point: Floats, line: Floats) -> Floats:
    start, step = line[:-1], np.diff(line, axis=0)
    t = np.clip(((point - start) * step).sum(axis=1) / np.maximum((step**2).sum(axis=1), 1e-18), 0, 1)
    on_line = start + t[:, None] * step
    return np.asarray(on_line[np.linalg.norm(on_line - point, axis=1).argmin()])
