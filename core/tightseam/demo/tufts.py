"""Locks of hair on the scalp, the hairline, and the cap below them."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import Array, Field, gradient, lerp, project, skull_sdf, smooth_step
from tightseam.demo.tubes import Soup, spline, tube
from tightseam.geometry.normals import unit
from tightseam.geometry.polyline import arc_length


def tuft_colours(P: Head, rng: np.random.Generator, n: int, seg: int, var: float = 0.16) -> Array:
    base = np.array(P["hair_col"]) * (1 + var * (2 * rng.random() - 1))
    u = np.repeat(np.interp(np.linspace(0, 1, n), [0, 0.3, 0.7, 1], [P["root_shade"], 0.97, 1.10, 1.25]), seg)
    strands = np.tile(1 + P["streaks"] * rng.normal(size=seg).clip(-1.4, 1.4), n)
    return np.vstack([base * (u * strands)[:, None], base * P["root_shade"], base * 1.25])


def add_tuft(
    S: Soup,
    P: Head,
    rng: np.random.Generator,
    pts: Array,
    width: float,
    thick: float,
    off: float = 0.15,
    n: int = 12,
    seg: int = 8,
    shape: Array = None,
    lift_tip: float = 0.0,
    stick: float = 1.0,
    ridge: float = 0.25,
    roots: float = 0.55,
    sink: float = 0.16,
    surface: Field = skull_sdf,
    var: float = 0.16,
    combed: float = 0.0,
) -> None:
    """A tuft through control points hugging the scalp at height off (array or scalar)."""
    raw = spline(pts, n)
    u = np.linspace(0, 1, n)
    q = project(raw, P, f=surface, n=6)
    nr = unit(gradient(surface, q, P))
    h = np.broadcast_to(off, (n,)) + lift_tip * smooth_step(0.45, 1.0, u)
    h = lerp(-0.12 - thick * 0.6, h, smooth_step(-0.05, sink, u)) if sink else h
    path = lerp(raw, q + nr * h[:, None], stick)
    if shape is None:
        shape = np.minimum(1, roots + (1 - roots) * np.clip(u / 0.3, 0, 1)) * (1 - np.clip((u - 0.5) / 0.5, 0, 1) ** 1.8 * 0.92)
    V, F = tube(path, nr, width * shape, thick * shape, seg, ridge=ridge, combed=combed)
    S.add(V, F, np.clip(tuft_colours(P, rng, n, seg, var), 0, 1))


def hairline(P: Head) -> Array:
    """Right-to-left symmetric hairline control points for x >= 0: front centre ... nape centre (rough, projected later)."""
    hy = P["hair_y"]
    e = P["ear_c"]
    return np.array(
        [
            [0, hy, 7.5],
            [2.6, hy + 0.15, 6.8],
            [4.6, hy - 0.9, 5.4],
            [5.9, hy - 2.9, 4.0],
            [6.6, hy - 4.2, 2.6],
            [6.7, e[1] + 2.3, e[2] + 2.1],
            [6.9, e[1] + 2.75, e[2] + 0.3],
            [6.9, e[1] + 1.6, e[2] - 1.9],
            [6.2, e[1] - 1.4, e[2] - 2.9],
            [5.0, e[1] - 3.2, e[2] - 4.2],
            [2.6, e[1] - 4.6, e[2] - 5.6],
            [0, e[1] - 5.0, e[2] - 6.2],
        ]
    )


def full_hairline(P: Head, n: int) -> Array:
    h = hairline(P)
    loop = np.vstack([h, (h * [-1, 1, 1])[-2:0:-1], h[:1]])
    return spline(loop, n + 1)[:-1]


def scalp_cap(S: Soup, P: Head, target: Array, off: float = 0.10, n: int = 48, rows: int = 14) -> Array:
    """Under-cap: closed sheet from the hairline to a target point, so that no scalp shows between tufts; its edge is sunk into the skin."""
    L = full_hairline(P, n)
    m = 30
    u = np.linspace(0, 1, m)[:, None, None]
    q = lerp(L[None], np.asarray(target, float)[None, None], u)
    q = q + unit(q - np.array([0, 2.0, -1.5])) * 4 * u * (1 - u)
    q = project(q.reshape(-1, 3), P, f=skull_sdf, n=10).reshape(m, n, 3)
    cols = []
    for k in range(n):  # even spacing along the scalp, else long quads cut below the skin
        s = arc_length(q[:, k])
        w = np.arange(rows) / rows * s[-1]
        cols.append(np.stack([np.interp(w, s, q[:, k, c]) for c in range(3)], -1))
    q = project(np.stack(cols, 1).reshape(-1, 3), P, f=skull_sdf, n=4)
    nr = unit(gradient(skull_sdf, q, P))
    h = off * np.minimum(1, 0.15 + 6 * np.arange(rows) / rows)
    h[0] = -0.03
    V = [q + nr * np.repeat(h, n)[:, None]]
    V = np.vstack(V + [project(np.array([target], float), P, f=skull_sdf, n=8) + [[0, off, 0]]])
    F = [[r * n + k, r * n + (k + 1) % n, (r + 1) * n + (k + 1) % n, (r + 1) * n + k] for r in range(rows - 1) for k in range(n)]
    F += [[(rows - 1) * n + k, (rows - 1) * n + (k + 1) % n, len(V) - 1] for k in range(n)]
    S.add(V, F, np.array(P["hair_col"]) * 0.75)
    return V[n:]


def add_wisps(
    S: Soup, P: Head, rng: np.random.Generator, roots: Array, ways: Array, length: float, width: float, surface: Field = skull_sdf
) -> None:
    """Single thin strands: they break the edge of a hairline."""
    for p, way in zip(roots, ways, strict=True):
        far = length * (0.6 + 0.8 * rng.random())
        bend = np.cross(way, unit(p)) * rng.normal() * 0.35
        pts = [p, p + way * 0.3 * far, p + (way + bend * 0.4) * 0.65 * far, p + (way + bend) * far]
        add_tuft(
            S,
            P,
            rng,
            pts,
            width,
            width * 0.6,
            off=0.06,
            n=6,
            seg=4,
            ridge=0.0,
            sink=0.0,
            surface=surface,
            var=0.1,
            shape=np.array([1, 1, 0.85, 0.6, 0.35, 0.06]),
        )
