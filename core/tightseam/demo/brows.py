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


def build_brow(P: Head, rng: np.random.Generator, rows: int = 13) -> RawPart:
    """The left brow; `rows` of vertices from its inner to its outer end."""
    S = Soup()
    if P["brow_tufts"]:
        _tufts(S, P, rng)
    else:
        n, thick = rows, P["brow_thick"]
        u = np.linspace(0, 1, n)
        path, nr = surface_path(_brow_line(P), P, n, 0.03)
        w = 0.30 * thick * (np.clip(u / 0.12, 0.55, 1)) * (1 - 0.75 * np.clip((u - 0.35) / 0.65, 0, 1) ** 1.3)
        V, F = tube(path, nr, w, np.minimum(w, 0.24) * 0.62, 10, ridge=0.0)
        S.add(V, F, P["brow_col"])
    return S.part("brow_L", "brow")


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


def _tufts(S: Soup, P: Head, rng: np.random.Generator) -> None:
    """Bushy brows: short tufts that lean outwards, each an island of its own."""
    count, thick = P["brow_tufts"], P["brow_thick"]
    base, normals = surface_path(_brow_line(P), P, 60, 0.0)
    taper = thick * np.array([0.5, 0.9, 1, 0.9, 0.7, 0.45, 0.12])
    w = np.linspace(0, 1, 7)[:, None]
    for k in range(count):
        f = (k + 0.5) / count
        i = int(f * 50)
        p, nn = base[i], normals[i]
        along = unit(base[min(i + 6, 59)] - base[i])
        up = np.array([0, 1, 0]) - nn * nn[1]
        length = (1.15 + 0.5 * rng.random()) * thick
        d = unit(along * (0.5 + 0.7 * f) + up * (0.75 - 0.8 * f + 0.25 * rng.normal()) + nn * 0.45)
        path = p - up * 0.25 * thick + nn * 0.04 + d * w * length + (nn * 0.25 * np.sin(np.pi * w) - up * 0.25 * w**2)
        V, F = tube(path, np.tile(nn, (7, 1)), 0.26 * taper, 0.20 * taper, 6)
        S.add(V, F, np.array(P["brow_col"]) * (0.88 + 0.3 * rng.random()))


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
    sgn = 1 if upper else -1
    outw = np.stack([0.75 * (t - 0.42), np.full_like(t, 0.75 * sgn), np.full_like(t, 0.25)], -1)
    a = root + d * 0.012
    b = a + ln[:, None] * unit(d * 0.95 + outw * 0.25) * 0.55
    e = b + ln[:, None] * unit(d * 0.55 + outw) * 0.55
    V = np.vstack([a - d * 0.03 - outw * 0.02, b, e, b + outw * 0.05 + d * 0.02, a + outw * 0.075])
    n = m + 1
    F = [[r * n + k, r * n + k + 1, (r + 1) * n + k + 1, (r + 1) * n + k] for r in range(4) for k in range(m)]
    S = Soup()
    S.add(V, F, P["lash_col"])
    return S.part("lash_upper_L" if upper else "lash_lower_L", "lash")
