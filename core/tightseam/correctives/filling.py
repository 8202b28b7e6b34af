"""Skin that folds, crumples, tears or sinks in, laid smoothly between what lies round it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from tightseam.correctives.bending import around
from tightseam.deform.evaluator import Evaluator
from tightseam.geometry.membrane import Membrane
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.shapes.unposing import Unposing


def filled(
    evaluator: Evaluator, rows: slice, mesh: SurfaceMesh, values: Mapping[str, float], seeds: Ints, reach: float, kept: Bools
) -> Floats:
    """Offsets (N, 3) of the skin with which, in a pose, what lies within `reach` cm of some `seeds` goes as smoothly as can be with what
    lies round it: what the pose has moved it by, filled in from the rim by the bi-Laplacian and brought back before the bones."""
    inside = np.zeros(len(mesh), bool)
    inside[around(mesh, seeds, reach, kept)] = True
    patch = Membrane(mesh, inside)
    posed = evaluator.in_head(values)[rows]
    wanted = mesh.points[patch.inside] + patch.filled(posed - mesh.points)
    to_world = np.linalg.inv(evaluator.to_head(evaluator.posed_by))
    solver = Unposing(evaluator, rows, values)
    start = solver.shaped.copy()
    solver.reach(patch.inside, wanted @ to_world[:3, :3].T + to_world[:3, 3])
    return solver.shaped - start
