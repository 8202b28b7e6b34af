"""A flat cut through a place of the posed head, as it hangs on its head bone."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Floats

REACH = 3.0  # cm about the place that are looked at
LEVEL = 0.4  # of a normal from which it points to a side rather than up or down; what has collapsed has none


@dataclass(frozen=True)
class CutLine:
    """A line of one part: points (K, 2) in mm about the place, outwards from the surface there and up."""

    part: str
    points: Floats


def cut_at(evaluator: Evaluator, part: str, vertex: int, values: Mapping[str, float]) -> list[CutLine]:
    """All parts within reach of a vertex, cut by the plane that goes up through it and along its normal; where that points up or down
    itself, along the middle plane of the head. BadRequest for a vertex that is not there."""
    found = find_part(evaluator.character, part)
    if not 0 <= vertex < found.vertex_count:
        raise BadRequest(f"{part} has vertices 0 to {found.vertex_count - 1}; {vertex} is out of range.")
    meshes = evaluator.meshes
    posed = evaluator.in_head(values)
    own = posed[meshes.rows(part)]
    place, normal = own[vertex], vertex_normals(own, meshes.part_triangles[meshes.names.index(part)])[vertex]
    level = normal * [1, 0, 1]
    aside = float(np.linalg.norm(level))
    out = level / aside if aside > LEVEL else np.array([0.0, 0.0, 1.0])
    plane = Plane(place, np.cross(out, [0.0, 1.0, 0.0]))
    lines = []
    for name, triangles in zip(meshes.names, meshes.part_triangles, strict=True):
        points = posed[meshes.rows(name)]
        near = (np.abs(points - place).max(axis=1) < REACH)[triangles].any(axis=1)
        for line in section(points, triangles[near], plane):
            off = line.outline - place
            lines.append(CutLine(name, CM_TO_MM * np.stack([off @ out, off[:, 1]], axis=1)))
    return lines
