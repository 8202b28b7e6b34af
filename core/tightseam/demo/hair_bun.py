"""A combed bun with a swept fringe."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array, lerp
from tightseam.demo.tubes import Soup, rounded_box, tube
from tightseam.demo.tufts import add_tuft, add_wisps, full_hairline, scalp_cap, tuft_colours
from tightseam.geometry.normals import unit


def hair_bun(P: Head, rng: np.random.Generator) -> tuple[RawPart, Array]:
    """The hair, and the points (K, 3) of the cap below it: the scalp there is painted, so that no skin shines through."""
    S = Soup()
    top = P["cran_c"][1] + P["cran_r"][1]
    bun = np.array([0, top - 0.4, -5.2])
    base = np.array([0, top - 1.6, -4.6])
    scalp = scalp_cap(S, P, base, 0.26)
    n = 50
    L = full_hairline(P, n)
    for k in range(n):
        p = L[k]
        ang = np.arctan2(p[0], p[2] + 1.5)
        e = base + np.array([np.sin(ang) * 1.0, 0, np.cos(ang) * 1.0])
        m1 = lerp(p, e, 0.33) + unit(lerp(p, e, 0.33) - [0, 1, -1]) * 1.2
        m2 = lerp(p, e, 0.68) + unit(lerp(p, e, 0.68) - [0, 1, -1]) * 1.2
        j = 0.10 * rng.normal()
        add_tuft(
            S,
            P,
            rng,
            [p + [0, -0.1, 0], m1 + [j * 4, 0, 0], m2 + [j * 3, 0, 0], e],
            0.80 + 0.12 * rng.random(),
            0.28 + 0.14 * rng.random(),
            off=0.17 + 0.12 * rng.random(),
            n=8,
            seg=12,
            ridge=0.0,
            combed=0.42,
            shape=np.interp(np.linspace(0, 1, 8), [0, 0.12, 0.5, 0.85, 1], [0.80, 1.0, 1, 0.62, 0.42]),
        )
    # swept fringe: from a side parting over the forehead, round the temple, back over the ear
    part = np.array([1.6, P["hair_y"] + 2.6, 5.0])
    for sgn in (-1, 1):
        K = 5
        for k in range(K):
            f = k / (K - 1)
            o = part + np.array([-0.1 * sgn, 0.2 + 1.0 * f, -1.5 * f])
            hy = P["hair_y"]
            pts = [
                o,
                [sgn * (3.4 if sgn < 0 else 3.9), hy + 0.2 + 1.2 * f, 6.0 - 0.6 * f],
                [sgn * 6.2, hy - 2.6 + 1.7 * f, 3.6 - 0.5 * f],
                [sgn * 7.3, hy - 4.4 + 2.1 * f, 0.4 - 0.8 * f],
                [sgn * 6.8, hy - 3.6 + 2.4 * f, -3.6],
                [sgn * 4.0, hy - 0.8 + 2 * f, -7.4],
            ]
            if sgn < 0:
                pts.insert(1, [-0.9, hy + 0.9 + 1.2 * f, 6.9 - 0.6 * f])
            add_tuft(
                S,
                P,
                rng,
                pts,
                0.80,
                0.40,
                off=0.28 + 0.14 * (1 - f) + 0.05 * rng.random(),
                n=13,
                seg=12,
                ridge=0.0,
                combed=0.5,
                shape=np.interp(np.linspace(0, 1, 13), [0, 0.15, 0.5, 0.85, 1], [0.35, 0.9, 1, 0.7, 0.15]),
            )
        # loose strand before the ear
        e = np.array(P["ear_c"])
        x = sgn * (e[0] - 0.1)
        pts = [
            [sgn * 6.2, P["hair_y"] - 3.0, 3.2],
            [x, e[1] + 1.6, e[2] + 2.9],
            [x * 1.0, e[1] - 1.0, e[2] + 2.7],
            [x * 0.97, e[1] - 3.6, e[2] + 3.2],
            [x * 0.93, e[1] - 5.6, e[2] + 2.7],
        ]
        add_tuft(S, P, rng, pts, 0.40, 0.24, off=0.16, n=16, lift_tip=0.55, stick=0.85)
        pts = np.array(pts) + [[0, 0, 0], [0, 0, 0.35], [0, 0.3, 0.7], [0, 0.9, 1.0], [0, 1.9, 1.5]]
        add_tuft(S, P, rng, pts, 0.26, 0.18, off=0.20, n=16, lift_tip=0.8, stick=0.85)
    # a soft hairline: thin strands over the forehead, the temples and the nape
    roots = full_hairline(P, 80)
    roots = roots[(roots[:, 2] > 1.5) & (np.abs(roots[:, 0]) > 1.2) | (roots[:, 1] < P["ear_c"][1] - 1.0)]
    inwards = unit(base - roots)
    outwards = np.sign(roots[:, :1]) * [[0.75, -0.5, -0.2]]
    add_wisps(S, P, rng, roots + inwards * 0.55, unit(-inwards * 0.9 + outwards), 1.15, 0.040)
    # bun: a ball of twisted strands
    for k in range(10):
        a = 2 * np.pi * k / 10
        t = np.linspace(0, 1, 11)
        lat = np.radians(lerp(-62, 74, t))
        lon = a + 1.9 * t
        r = np.array([2.75, 2.35, 2.75])
        dirs = np.stack([np.cos(lat) * np.sin(lon), np.sin(lat), np.cos(lat) * np.cos(lon)], -1)
        V, F = tube(
            bun + [0, 1.0, 0] + dirs * r,
            dirs,
            (1.00 + 0.25 * rng.random()) * np.sin(np.pi * np.clip(t * 0.86 + 0.08, 0, 1)) ** 0.6,
            np.full(11, 0.50 + 0.18 * rng.random()) * np.sin(np.pi * np.clip(t * 0.86 + 0.08, 0, 1)) ** 0.4,
            12,
            flat=1.4,
            combed=0.40,
        )
        S.add(V, F, np.clip(tuft_colours(P, rng, 11, 12), 0, 1))
    V, F = rounded_box((2.45, 2.05, 2.45), p=2.0, n=5)
    S.add(V + bun + [0, 1.0, 0], F, np.array(P["hair_col"]) * 0.8)
    return S.part("hair", "hair"), scalp
