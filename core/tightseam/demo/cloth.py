"""A knitted roll-neck: it hides where the bust is cut and says who is who. One closed sheet of wool with an inside and an outside."""

from __future__ import annotations

import numpy as np
from scipy.ndimage import maximum_filter1d, uniform_filter1d

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array, project, skull_sdf
from tightseam.demo.tubes import Soup
from tightseam.geometry.normals import unit

AROUND = 104
STITCHES = 4  # to a rib
RIB = 0.065  # cm
SPAN = 7  # columns that wool spans
LEAN = 0.8  # cm by which the front of the roll hangs lower than its back, at its upper edge
# up the neck, over the edge and down outside: share of the roll's height, cm off the skin, how deep its ribs are
ROLL = (
    (0.00, 0.26, 0.3), (0.30, 0.27, 0.5), (0.62, 0.27, 0.5), (0.92, 0.30, 0.5), (1.02, 0.40, 0.5), (1.02, 0.56, 1.0), (0.90, 0.72, 1.0),
    (0.66, 0.80, 1.0), (0.40, 0.82, 1.0), (0.16, 0.76, 1.0), (0.02, 0.62, 1.0), (0.00, 0.48, 0.5), (-0.08, 0.40, 0.5),
)  # fmt: skip
# over the shoulders and back below: spread against the neck, drop in the middle, cm off the skin, ribs
YOKE = (
    (1.06, 0.25, 0.34, 0.45), (1.16, 0.55, 0.34, 0.45), (1.32, 1.00, 0.34, 0.45), (1.50, 1.65, 0.34, 0.45), (1.68, 2.50, 0.34, 0.45),
    (1.76, 3.10, 0.30, 0.45), (1.74, 3.00, 0.14, 0.0), (1.50, 1.65, 0.14, 0.0), (1.24, 0.78, 0.14, 0.0), (1.06, 0.25, 0.14, 0.0),
)  # fmt: skip


def build_collar(P: Head) -> RawPart:
    level = P["neck_bot"][1] + 0.75
    angle = 2 * np.pi * np.arange(AROUND) / AROUND
    axis = np.array([0, 0, P["neck_bot"][2]])
    foot = _around(P, angle, np.full(AROUND, level - 0.25), 0.0)
    front = 0.5 + 0.5 * np.cos(angle)
    rows = [_around(P, angle, level + share * P["cloth_top"] - LEAN * max(share, 0) * front, off) for share, off, _ in ROLL]
    for spread, drop, off, _ in YOKE:
        ring = axis + (foot - axis) * [spread, 1, spread]
        ring[:, 1] = level - 0.25 - drop * (1 - P["shoulder_lift"] * (ring[:, 0] / np.abs(ring[:, 0]).max()) ** 2)
        rows.append(project(ring, P, f=skull_sdf, n=6, off=off))
    grid = np.array(rows)
    depth = np.array([row[-1] for row in ROLL + YOKE])[:, None] * np.cos(2 * np.pi * np.arange(AROUND) / STITCHES)
    up = np.roll(grid, -1, axis=0) - np.roll(grid, 1, axis=0)
    outwards = unit(np.cross(np.roll(grid, -1, axis=1) - np.roll(grid, 1, axis=1), up))
    grid = grid - outwards * (RIB * depth)[..., None]
    stitch = np.where(np.arange(len(grid))[:, None] % 2, 1, -1)  # every other row is a little paler
    tone = 1 + 0.20 * depth + 0.07 * stitch
    S = Soup()
    S.add(grid.reshape(-1, 3), _wrapped(*depth.shape), np.clip(np.array(P["cloth_col"]) * tone.reshape(-1, 1), 0, 1))
    return S.part("collar", "cloth")


def _wrapped(rows: int, columns: int) -> list[list[int]]:
    """The quads of a grid that closes both ways."""
    return [
        [r * columns + k, r * columns + (k + 1) % columns, (r + 1) % rows * columns + (k + 1) % columns, (r + 1) % rows * columns + k]
        for r in range(rows)
        for k in range(columns)
    ]


def _around(P: Head, angle: Array, y: Array, off: float) -> Array:
    """A ring about the neck with its own height at each angle, `off` cm outside it: from the axis outwards to the surface, by halving."""
    z = np.interp(y, [P["neck_bot"][1], P["neck_top"][1]], [P["neck_bot"][2], P["neck_top"][2]])
    axis = np.column_stack([0 * y, y, z])
    way = np.column_stack([np.sin(angle), 0 * angle, np.cos(angle)])
    low, high = np.zeros(len(angle)), np.full(len(angle), 7.5)
    for _ in range(26):
        middle = (low + high) / 2
        inside = skull_sdf(axis + way * middle[:, None], P) < 0
        low, high = np.where(inside, middle, low), np.where(inside, high, middle)
    spans = maximum_filter1d(low, SPAN, mode="wrap")  # wool does not follow a hollow
    return axis + way * (np.maximum(uniform_filter1d(spans, SPAN, mode="wrap"), low) + off)[:, None]
