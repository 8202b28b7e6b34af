"""How far an eyeball reaches in every direction, cornea included."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.normals import unit
from tightseam.geometry.types import Bools, Floats, Ints

POLAR_STEPS = 181  # 0 to 180 degrees from the gaze axis (+Z), one a degree
AROUND_STEPS = 64


def eye_profile(points: Floats, triangles: Ints, centre: Floats) -> Floats:
    """Radius table (181, 64), cm: row = degrees from +Z, column = angle about it from +X towards +Y.

    Each entry is where the ray from `centre` leaves the mesh, by solving ray = a A + b B + c C with a, b, c >= 0 for every
    triangle. Directions that leave through a hole take the largest radius of the mesh.
    """
    corners = (points - centre)[triangles]
    inverse, solvable = _inverse_corners(corners)
    lowest, highest = _polar_span(corners)
    around = np.arange(AROUND_STEPS) * 2 * np.pi / AROUND_STEPS
    table = np.empty((POLAR_STEPS, AROUND_STEPS))
    farthest = np.linalg.norm(points - centre, axis=1).max()
    for row in range(POLAR_STEPS):
        polar = np.radians(row)
        ray = np.stack([np.sin(polar) * np.cos(around), np.sin(polar) * np.sin(around), np.full(AROUND_STEPS, np.cos(polar))], axis=1)
        near = np.flatnonzero(solvable & (lowest <= row + 0.1) & (highest >= row - 0.1))
        mix = np.einsum("tij,rj->rti", inverse[near], ray)
        total = mix.sum(axis=2)
        hit = (mix >= -1e-9).all(axis=2) & (total > 1e-12)
        found = np.where(hit, 1 / np.where(hit, total, 1.0), 0.0).max(axis=1, initial=0.0)
        table[row] = np.where(found > 0, found, farthest)
    return table


def _inverse_corners(corners: Floats) -> tuple[Floats, Bools]:
    matrix = np.swapaxes(corners, 1, 2)
    solvable = np.abs(np.linalg.det(matrix)) > 1e-12
    return np.linalg.inv(np.where(solvable[:, None, None], matrix, np.eye(3))), solvable


def _polar_span(corners: Floats) -> tuple[Floats, Floats]:
    """Lowest and highest degrees from +Z that each triangle can cover: its middle plus and minus its angular radius."""
    directions = unit(corners)
    middle = unit(directions.sum(axis=1))
    polar = np.degrees(np.arccos(np.clip(middle[:, 2], -1, 1)))
    radius = np.degrees(np.arccos(np.clip((directions * middle[:, None]).sum(axis=2).min(axis=1), -1, 1)))
    return polar - radius, polar + radius


def reach(profile: Floats, directions: Floats) -> Floats:
    """Radius in cm in each unit direction (K, 3) in the eye's own space, read from a profile with bilinear interpolation."""
    polar = np.degrees(np.arccos(np.clip(directions[:, 2], -1, 1)))
    around = np.arctan2(directions[:, 1], directions[:, 0]) / (2 * np.pi) * AROUND_STEPS % AROUND_STEPS
    row = np.minimum(polar.astype(int), POLAR_STEPS - 2)
    column = around.astype(int) % AROUND_STEPS
    u, v = polar - row, around - np.floor(around)
    following = (column + 1) % AROUND_STEPS
    near = profile[row, column] * (1 - v) + profile[row, following] * v
    far = profile[row + 1, column] * (1 - v) + profile[row + 1, following] * v
    return np.asarray(near * (1 - u) + far * u)
