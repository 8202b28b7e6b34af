"""Bald on top: a horseshoe of tufts over and behind the ears."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array, gradient, project, skull_sdf, smooth_step
from tightseam.demo.tubes import Soup, spline
from tightseam.demo.tufts import add_tuft
from tightseam.geometry.normals import unit

TUFTS = 20  # a row and side
BAND = (2.3, 1.3, 0.3, -0.8, -2.0, -3.2)  # heights of the band below the tufts, about its middle line
RISE = (2.2 * 0.75, 0.9 * 0.75, -0.5, -1.9)  # of the roots of each row
DROOP = (-0.10, -0.25, -0.45, -0.6)
PUFF = (0.75, 0.70, 0.6, 0.55)


def hair_sides(P: Head, rng: np.random.Generator) -> tuple[RawPart, Array]:
    """The hair, and the points (K, 3) of the band below it."""
    S = Soup()
    root_line = _root_line(P)
    band = _band(S, P, root_line)
    for side in (-1, 1):
        for row in (3, 2, 1, 0):
            roots = spline(root_line, TUFTS)
            for k in range(TUFTS):
                f = k / (TUFTS - 1)  # 0 temple .. 1 middle of the back
                if (row >= 2 and f < 0.36) or (row == 1 and f < 0.12):
                    continue
                p = roots[k] + [0, RISE[row], 0]
                tg = np.array([0, DROOP[row] * (1 - f), -1.0 * (1 - f)]) + np.array([-0.9, -0.55 - 0.35 * row, -0.1]) * f
                tg = tg + rng.normal(size=3) * [0.10, 0.24, 0.14]
                length = (3.0 + 1.7 * rng.random()) * (1 - 0.2 * f) * (1 - 0.5 * f * (row >= 2)) * np.interp(f, [0, 0.25], [0.55, 1])
                pts = np.array([p, p + tg * length * 0.35, p + tg * length * 0.7, p + tg * length]) * [side, 1, 1]
                puff = PUFF[row] * (0.55 - 0.15 * f)
                add_tuft(
                    S, P, rng, pts, 0.22 + 0.09 * rng.random(), 0.16, off=0.16 + 0.10 * (3 - row) + 0.16 * rng.random(), n=7, seg=6,
                    lift_tip=puff * (0.2 + 1.5 * rng.random()), ridge=0.0, var=0.12,
                )  # fmt: skip
    _combed_over(S, P, rng)
    return S.part("hair", "hair"), band


def _root_line(P: Head) -> Array:
    e, s = np.array(P["ear_c"]), P["ear_s"]
    return np.array(
        [
            [6.9, e[1] + 2.0 * s, e[2] + 1.3], [7.0, e[1] + 2.6 * s, e[2] + 0.5], [6.9, e[1] + 2.3 * s, e[2] - 2.0],
            [5.6, e[1] + 1.3, e[2] - 5.4], [3.0, e[1] + 0.8, e[2] - 7.7], [0.35, e[1] + 0.7, e[2] - 8.4],
        ]
    )  # fmt: skip


def _band(S: Soup, P: Head, root_line: Array) -> Array:
    n = 40
    c = spline(np.vstack([root_line, (root_line * [-1, 1, 1])[::-1]]), n)
    f = np.abs(np.linspace(-1, 1, n))
    V = []
    for k, dy in enumerate(BAND):
        q = project(
            c + np.column_stack([0 * f, dy * np.where(dy < 0, 1 - 0.92 * smooth_step(0.60, 0.78, f), 0.75), 0 * f]), P, f=skull_sdf, n=8
        )
        V.append(q + unit(gradient(skull_sdf, q, P)) * (0.16 if 0 < k < len(BAND) - 1 else -0.1))
    V = np.vstack(V)
    F = [[r * n + k, r * n + k + 1, (r + 1) * n + k + 1, (r + 1) * n + k] for r in range(len(BAND) - 1) for k in range(n - 1)]
    S.add(V, F, np.array(P["hair_col"]) * 0.8)
    return V[n:-n]


def _combed_over(S: Soup, P: Head, rng: np.random.Generator) -> None:
    """A few long strands across the bald crown, out of the hair over one ear and in among that over the other, in loose bundles."""
    top = P["cran_c"][1] + P["cran_r"][1]
    for bundle in np.linspace(2.2, -4.0, 9) + 0.25 * rng.normal(size=9):
        for _ in range(rng.integers(2, 4)):
            z = bundle + 0.16 * rng.normal()
            drift = 0.3 * rng.normal(size=3)
            pts = [
                [6.6, 1.6 + 0.3 * rng.normal(), z - 2.6],
                [6.0, 4.2, z - 2.4 + 0.3 * drift[0]],
                [4.3, top - 2.2, z - 1.0 + 0.5 * drift[0]],
                [0.8, top - 0.1, z + 0.2 + drift[1]],
                [-3.0, top - 0.9, z + 0.3 + drift[1]],
                [-5.6 + 0.5 * rng.random(), top - 3.6 - 1.5 * rng.random(), z - 0.6 + drift[2]],
            ]
            add_tuft(
                S,
                P,
                rng,
                pts,
                0.075 + 0.045 * rng.random(),
                0.05,
                off=0.05 + 0.04 * rng.random(),
                n=13,
                seg=4,
                lift_tip=0.2 * rng.random(),
                ridge=0.0,
                var=0.10,
            )
