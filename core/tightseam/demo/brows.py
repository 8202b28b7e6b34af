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


def build_brow(P: Head) -> RawPart:
    ex, _, ez = P["eye_c"]
    R = P["eye_r"]
    by = P["brow_y"] + P.get("brow_lift", 0.25)
    xi, xo = ex - R * 0.95, ex + R * 1.12
    sl = P.get("brow_slant", 0.0)
    pts = np.array(
        [
            [xi, by - 0.12 - sl, ez + R + 1.2],
            [lerp(xi, xo, 0.35), by + 0.25, ez + R + 1.1],
            [lerp(xi, xo, 0.68), by + 0.42 + sl * 0.3, ez + R + 0.7],
            [xo, by - 0.22 + sl, ez + R * 0.6],
        ]
    )
    S = Soup()
    n = 13
    u = np.linspace(0, 1, n)
    bt = P["brow_thick"]
    path, nr = surface_path(pts, P, n, 0.03)
    w = 0.30 * bt * (np.clip(u / 0.12, 0.55, 1)) * (1 - 0.75 * np.clip((u - 0.35) / 0.65, 0, 1) ** 1.3)
    V, F = tube(path, nr, w, np.minimum(w, 0.24) * 0.62, 10, ridge=0.0)
    S.add(V, F, P["brow_col"])
    return S.part("brow_L", "brow")


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
