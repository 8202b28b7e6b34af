"""Brows and lashes."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array, face_sdf, gradient, lerp, project
from tightseam.demo.tubes import Soup, spline, tube
from tightseam.geometry.normals import unit


def surface_path(pts: Array, P: Head, n: int, off: float) -> tuple[Array, Array]:
    q = project(spline(pts, n), P, n=6)
    nr = unit(gradient(face_sdf, q, P))
    off = np.broadcast_to(off, (n,))
    return q + nr * off[:, None], nr


def build_brow(P: Head, rng: np.random.Generator, rows: int = 13, hairs: int = 64) -> RawPart:
    """The left brow; `rows` of vertices from its inner to its outer end, and hairs over it; its set `body` is the brow
    without them. A bushy one has neither: it is all tufts."""
    S = Soup()
    if P["brow_tufts"]:
        _tufts(S, P, rng)
        body = S.n
    else:
        n, thick = rows, P["brow_thick"]
        u = np.linspace(0, 1, n)
        path, nr = surface_path(_brow_line(P), P, n, 0.03)
        w = 0.30 * thick * (np.clip(u / 0.12, 0.55, 1)) * (1 - 0.75 * np.clip((u - 0.35) / 0.65, 0, 1) ** 1.3)
        V, F = tube(path, nr, w * 0.86, np.minimum(w, 0.24) * 0.40, 10, ridge=0.0)
        S.add(V, F, np.array(P["brow_col"]) * 0.85)
        body = S.n
        _hairs(S, P, rng, hairs, path, nr, w)
    part = S.part("brow_L", "brow")
    part.sets["body"] = list(range(body))
    return part


def _brow_line(P: Head) -> Array:
    ex, _, ez = P["eye_c"]
    R = P["eye_r"]
    by, slant = P["brow_y"] + P["brow_lift"], P["brow_slant"]
    xi, xo = ex - R * 0.95, ex + R * 1.12
    return np.array(
        [
            [xi, by - 0.12 - slant, ez + R + 1.2],
            [lerp(xi, xo, 0.35), by + 0.25, ez + R + 1.1],
            [lerp(xi, xo, 0.68), by + 0.42 + slant * 0.3, ez + R + 0.7],
            [xo, by - 0.22 + slant, ez + R * 0.6],
        ]
    )


def _hairs(S: Soup, P: Head, rng: np.random.Generator, count: int, path: Array, normals: Array, width: Array) -> None:
    """Hairs of a combed brow: upright at its inner end, along it farther out."""
    taper = np.array([0.6, 1.0, 0.75, 0.12])
    w = np.linspace(0, 1, 4)[:, None]
    for k in range(count):
        f = 0.95 * (k + 0.3 + 0.4 * rng.random()) / count  # none beyond the outer end
        x = f * (len(path) - 1)
        i = min(int(x), len(path) - 2)
        p, nn = lerp(path[i], path[i + 1], x - i), unit(lerp(normals[i], normals[i + 1], x - i))
        along = unit(path[i + 1] - path[i])
        up = unit(np.array([0, 1.0, 0]) - nn * nn[1])
        wide = np.interp(x, np.arange(len(path)), width)
        low = (rng.random() * 1.5 - 0.85) * wide
        d = unit(along * (0.55 + 0.9 * f**0.6) + up * (0.70 * (1 - f) ** 1.4 - 0.30 * f * np.sign(low) + 0.10 * rng.normal()))
        far = (0.40 + 0.26 * rng.random()) * P["brow_thick"] * (1 - 0.50 * f)
        line = p + up * low + nn * 0.06 + d * w * far + nn * 0.05 * np.sin(np.pi * w) - nn * 0.03 * w
        V, F = tube(line, np.tile(nn, (4, 1)), 0.036 * taper, 0.030 * taper, 3)
        S.add(V, F, np.array(P["brow_col"]) * (0.9 + 0.9 * rng.random()))


def _tufts(S: Soup, P: Head, rng: np.random.Generator) -> None:
    """Bushy brows: short tufts that lean outwards, each of three strands about one line, each strand an island of its own."""
    count, thick = P["brow_tufts"], P["brow_thick"]
    base, normals = surface_path(_brow_line(P), P, 60, 0.0)
    taper = thick * np.array([0.55, 0.9, 1.0, 0.94, 0.76, 0.46, 0.10])
    w = np.linspace(0, 1, 7)[:, None]
    for k in range(count):
        f = (k + 0.5) / count
        i = int(f * 50)
        p, nn = base[i], normals[i]
        along = unit(base[min(i + 6, 59)] - base[i])
        up = np.array([0, 1, 0]) - nn * nn[1]
        length = (1.15 + 0.5 * rng.random()) * thick
        d = unit(along * (0.5 + 0.7 * f) + up * (0.75 - 0.8 * f + 0.25 * rng.normal()) + nn * 0.32)
        tone = 0.88 + 0.3 * rng.random()
        aside = unit(np.cross(d, nn)) * (0.25 if k in (0, count - 1) else 1.0)  # the ends stay where they are: landmarks are read there
        for strand in (-1, 0, 1):
            way = d * length * (1 - 0.10 * abs(strand)) + aside * strand * 0.06 * thick
            path = p - up * 0.25 * thick + nn * (0.04 + 0.05 * (strand == 0)) + aside * strand * 0.10 * thick + way * w
            path = path + (nn * 0.12 * np.sin(np.pi * w) - up * 0.25 * w**2)
            V, F = tube(path, np.tile(nn, (7, 1)), 0.145 * taper, 0.125 * taper, 5)
            S.add(V, F, np.clip(np.array(P["brow_col"]) * tone * (0.84, 1.06, 0.95)[strand + 1], 0, 1))


def build_lash(P: Head, skin: RawPart, upper: bool) -> RawPart:
    """Strip of three rows rooted on the outer lid edge; column k belongs to lid vertex k."""
    ring = skin.sets["eye_lid_edge_outer_L"]
    m = len(ring) // 2
    ids = ring[: m + 1] if upper else [ring[0]] + ring[: m - 1 : -1]
    c = np.asarray(P["eye_c"], float)
    root = skin.points[ids]
    d = unit(root - c)
    t = np.linspace(0, 1, m + 1)
    ln = (
        P["lashes"]
        * (0.44 * np.sin(np.pi * np.clip(t * 0.92 + 0.03, 0, 1)) ** 0.7 * (0.30 + 0.95 * t**1.3) + 0.03)
        * (1 if upper else 0.22)
    )
    ln = ln * np.where(np.arange(m + 1) % 2 == 1, 1.14, 0.84)  # every second column is the tip of a clump
    sgn = 1 if upper else -1
    outw = np.stack([0.75 * (t - 0.42), np.full_like(t, 0.75 * sgn), np.full_like(t, 0.25)], -1)
    a = root + d * 0.012
    b = a + ln[:, None] * unit(d * 0.95 + outw * 0.25) * 0.55
    e = b + ln[:, None] * unit(d * 0.55 + outw) * 0.55
    V = np.vstack([a - d * 0.03 - outw * 0.02, b, e, b + outw * 0.05 + d * 0.02, a + outw * (0.085 if upper else 0.06)])
    n = m + 1
    F = [[r * n + k, r * n + k + 1, (r + 1) * n + k + 1, (r + 1) * n + k] for r in range(4) for k in range(m)]
    S = Soup()
    S.add(V, F, P["lash_col"])
    return S.part("lash_upper_L" if upper else "lash_lower_L", "lash")
