"""Tousled hair: three layers of tufts swept sideways, and some that stand up at the crown."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array, lerp
from tightseam.demo.tubes import Soup, tube
from tightseam.demo.tufts import add_tuft, full_hairline, scalp_cap, tuft_colours
from tightseam.geometry.normals import unit

# count, where tufts start and end (0 hairline .. 1 crown), width, thickness, height over the scalp, lift of the tips
LAYERS = ((34, 0.62, -0.10, 0.95, 0.42, 0.36, 0.25), (30, 0.80, 0.24, 0.98, 0.46, 0.56, 0.60), (20, 0.97, 0.52, 0.95, 0.46, 0.76, 0.95))
CROWN_TUFTS = ((0.3, 2.2), (-0.5, 1.8), (1.3, 1.7), (-1.6, 1.6), (2.6, 1.9))  # heading in radians, length


def hair_tousled(P: Head, rng: np.random.Generator) -> tuple[RawPart, Array]:
    """The hair, and the points (K, 3) of the cap below it."""
    S = Soup()
    crown = np.array([0.6, P["cran_c"][1] + P["cran_r"][1] - 0.3, -3.0])
    scalp = scalp_cap(S, P, crown, 0.35)
    for layer, (n, start, end, width, thick, off, lift) in enumerate(LAYERS):
        for p in full_hairline(P, n):
            near_forehead = np.exp(-((np.arctan2(p[0], p[2] + 1) / 0.8) ** 2))
            sweep = (0.9 + 0.5 * rng.normal()) * (1.0 if p[2] > -2 else 0.5)
            tip = end + 0.09 * rng.normal() - (0.10 * near_forehead if layer == 0 else 0)
            if p[2] < -3:
                tip = max(tip, 0.0 if layer == 0 else end) if p[1] < 0 else tip
                sweep *= 0.5
            pts = _swept(p, crown, start + 0.06 * rng.normal(), start, tip, sweep)
            add_tuft(
                S, P, rng, pts, width * (0.85 + 0.3 * rng.random()), thick * (0.85 + 0.4 * rng.random()),
                off=off + 0.14 * rng.random(), n=7, seg=12, lift_tip=lift * (0.3 + 1.3 * rng.random()), ridge=0.0, combed=0.30, var=0.2,
            )  # fmt: skip
    for heading, length in CROWN_TUFTS:
        d = np.array([np.sin(heading), 0, np.cos(heading)])
        u = np.linspace(0, 1, 10)[:, None]
        path = crown + d * 0.5 + d * (2.4 * u) + np.array([0, 1, 0]) * (length * np.sin(1.9 * u) * 0.75)
        taper = np.interp(u[:, 0], [0, 0.3, 0.7, 1], [0.5, 1, 0.7, 0.06])
        for turn, part_ in ((-0.35, 0.55), (0.0, 0.7), (0.4, 0.5)):
            bent = path + np.cross([0, 1.0, 0], d) * (turn * 1.8 * u**1.5) - np.array([0, 0.25 * abs(turn), 0])
            V, F = tube(bent, np.tile([0, 1.0, 0], (10, 1)), part_ * taper, 0.42 * taper, 8, ridge=0.25)
            S.add(V, F, np.clip(tuft_colours(P, rng, 10, 8), 0, 1))
    return S.part("hair", "hair"), scalp


def _swept(p: Array, crown: Array, root: float, start: float, tip: float, sweep: float) -> list[Array]:
    def at(s: float) -> Array:
        q = lerp(p, crown, s)
        return q + unit(q - np.array([0, 1.0, -1.5])) * 4.5 * max(s, 0) * (1 - s)

    along = unit(np.cross(unit(p - crown), [0, 1, 0.2]))
    return [
        at(root),
        at(lerp(start, tip, 0.4)) + along * 0.35 * sweep,
        at(lerp(start, tip, 0.75)) + along * 0.8 * sweep,
        at(tip) + along * 1.5 * sweep,
    ]
