"""Spheres through points."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats


def fit_sphere(points: Floats, rounds: int = 12, areas: Floats | None = None) -> tuple[Floats, float]:
    """Centre (3,) and radius of the ball that most of the points (N, 3) lie on.

    Algebraic least squares (Coope 1993), weighted again each round by 1 / (1 + (residual / scale)²), so that a
    cornea or a hole at the back does not pull the centre. With `areas` (N,) points count by the surface they stand for: where
    a mesh is denser on one side, plain points would pull the ball there.
    """
    share = np.ones(len(points)) if areas is None else np.sqrt(areas / max(float(areas.mean()), 1e-30))
    weight = share
    centre, radius = points.mean(axis=0), 1.0
    for _ in range(rounds):
        a = np.column_stack([2 * points, np.ones(len(points))]) * weight[:, None]
        b = (points**2).sum(axis=1) * weight
        solution = np.linalg.lstsq(a, b, rcond=None)[0]
        centre = solution[:3]
        radius = float(np.sqrt(max(solution[3] + centre @ centre, 0.0)))
        residual = np.abs(np.linalg.norm(points - centre, axis=1) - radius)
        scale = max(float(np.median(residual)) * 1.5, 1e-9)
        weight = share / (1 + (residual / scale) ** 2)
    return centre, radius
