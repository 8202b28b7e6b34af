"""Working a map over: smoothed, filled in from its surroundings, raised where something lacks."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix

from tightseam.brush.canvas import Canvas
from tightseam.document.errors import BadRequest
from tightseam.geometry.solve import solve_with_fixed
from tightseam.geometry.types import Bools, Floats

RAISED_RINGS = 3  # rings of vertices round what is raised over which a map comes back to what it was


def smoothed(canvas: Canvas, values: Floats, where: Bools, steps: int, strength: float = 0.5) -> Floats:
    """Values (N,) drawn towards their neighbours' mean (cotangents) by `strength`, `steps` times, on the vertices `where`."""
    rows = np.flatnonzero(where)
    average = canvas.mesh.average[rows]
    done = values.copy()
    for _ in range(steps):
        done[rows] += strength * (average @ done - done[rows])
    return done


def mended(canvas: Canvas, values: Floats, where: Bools) -> Floats:
    """Values (N,) as their surroundings ask for on the vertices `where`: the smoothest that meets the others at their border (the Laplace
    equation, cotangents of the intrinsic Delaunay triangulation). BadRequest where they have no surroundings."""
    rows = np.flatnonzero(where)
    matrix = canvas.mesh.laplacian[0]
    around = np.unique(np.concatenate([rows, matrix[rows].indices]))
    fixed = ~where[around]
    if not fixed.any():
        raise BadRequest("What is to be mended has no surroundings to go by. Paint it, or take one of the starting points.")
    solved = solve_with_fixed(csr_matrix(matrix[around][:, around]), np.zeros((len(around), 1)), fixed, values[around][:, None])
    done = values.copy()
    done[rows] = solved[~fixed, 0]
    return np.clip(done, 0, 1)


def raised(canvas: Canvas, values: Floats, where: Bools) -> Floats:
    """Values (N,) raised to 1 on the vertices `where`, coming back softly over a few rings round them; lower nowhere."""
    near = grown(canvas, where, RAISED_RINGS)
    lifted = np.where(where, 1.0, values)
    return np.maximum(values, mended(canvas, lifted, near & ~where)) if (near & ~where).any() else lifted


def grown(canvas: Canvas, where: Bools, rings: int) -> Bools:
    """The vertices `where` (N,) and those within some edges of them."""
    reached = where.copy()
    for _ in range(rings):
        reached = reached | (canvas.mesh.average @ reached.astype(float) > 0)
    return reached
