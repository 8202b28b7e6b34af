"""Nose seeds by table, nostril by an ellipse in the tangent plane under the wing."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import face_sdf, gradient, lerp, project
from tightseam.demo.topology import NOSTRIL, Half, block_loop, cap
from tightseam.geometry.normals import unit


def seed_nose(H: Half, P: Head) -> None:
    G = H.grid
    ty, tz = P["nose_tip"]
    sy, sz = P["subnasale"]
    W = P["ala_c"][0] + P["ala_r"] * 0.92
    az_ = P["ala_c"][2]
    ay = P["ala_c"][1]
    ar = P["ala_r"]
    ax_ = P["ala_c"][0]
    tr = P["tip_r"]
    u0, u1 = sy - 0.02, ty - tr * 0.80  # underside: rear height, front height
    seed = {  # (column, row): x, y, z before projection
        (0, 13): (0, u0, sz),
        (1, 13): (0.30, u0, sz),
        (2, 13): (0.52, u0 + 0.02, sz - 0.05),
        (3, 13): (ax_ * 0.98, ay - ar * 0.75, az_ - ar * 0.75),
        (4, 13): (ax_ + ar * 0.60, ay - ar * 0.62, az_ - ar * 0.6),
        (5, 13): (W + 0.22, u0 + 0.1, az_ - ar * 0.9),
        (0, 14): (0, lerp(u0, u1, 0.5) + 0.05, lerp(sz, tz, 0.55)),
        (1, 14): (0.25, lerp(u0, u1, 0.5) + 0.05, lerp(sz, tz, 0.55)),
        (2, 14): (0.42, lerp(u0, u1, 0.5) + 0.08, lerp(sz, tz, 0.5)),
        (4, 14): (ax_ + ar * 0.62, ay - ar * 0.82, az_ + 0.05),
        (5, 14): (W + 0.08, ay - ar * 0.1, az_ - ar * 0.4),
        (0, 15): (0, u1 + 0.0, tz + tr * 0.3),
        (1, 15): (0.28, u1 + 0.02, tz + tr * 0.25),
        (2, 15): (0.52, u1 + 0.12, tz + tr * 0.1),
        (3, 15): (ax_ * 0.92, ay - ar * 0.72, lerp(az_, tz, 0.72)),
        (4, 15): (ax_ + ar * 0.50, ay - ar * 0.62, az_ + ar * 0.70),
        (5, 15): (W - 0.02, ay + ar * 0.05, az_ + ar * 0.25),
        (0, 16): (0, ty - tr * 0.38, tz + tr * 0.92),
        (1, 16): (0.30, ty - tr * 0.36, tz + tr * 0.85),
        (2, 16): (0.58, ty - tr * 0.25, tz + tr * 0.55),
        (3, 16): (ax_ * 0.98, ay + ar * 0.05, lerp(az_, tz, 0.75)),
        (4, 16): (ax_ + ar * 0.55, ay + ar * 0.10, az_ + ar * 0.8),
        (5, 16): (W * 0.98, ay + ar * 1.05, az_ - 0.2),
        (0, 17): (0, ty + tr * 0.12, tz + tr),
        (1, 17): (0.32, ty + tr * 0.12, tz + tr * 0.9),
        (2, 17): (0.58, ty + tr * 0.15, tz + tr * 0.5),
        (3, 17): (ax_ * 0.85, ay + ar * 0.95, lerp(az_, tz, 0.55)),
        (4, 17): (ax_ + ar * 0.2, ay + ar * 1.2, az_ + ar * 0.2),
        (0, 18): (0, ty + tr * 0.60, tz + tr * 0.8),
        (1, 18): (0.30, ty + tr * 0.60, tz + tr * 0.7),
        (2, 18): (0.55, ty + tr * 0.65, tz + tr * 0.3),
        (3, 18): (ax_ * 0.8, ty + tr * 0.85, tz - 0.5),
        (0, 19): (0, ty + tr * 1.15, tz + tr * 0.4),
        (1, 19): (0.28, ty + tr * 1.15, tz + tr * 0.3),
    }
    sp = project(np.array(list(seed.values()), float), P, n=6)
    for ij, p in zip(seed, sp):
        H.pos[G[ij]] = p
        if ij[1] <= 15 or ij[0] <= 2:
            H.soft.append(G[ij])
    # nostril outline: an ellipse in the tangent plane under the wing
    c0 = project(np.array([[ax_ * 0.90, ay - ar * 0.95, lerp(az_, tz, 0.22)]]), P, n=6)
    n0 = unit(gradient(face_sdf, c0, P))[0]
    c0 = c0[0]
    e1 = np.array([-0.30, 0, 1.0])
    e1 = unit(e1 - n0 * (e1 @ n0))
    e2 = np.cross(n0, e1)
    e2 = e2 * np.sign(e2[0])
    for i in (2, 3, 4):
        for j in (13, 14, 15):
            if (i, j) != (3, 14):
                u, v = i - 3.0, j - 14.0
                q = c0 + e2 * 0.74 * ar * u * np.sqrt(1 - v * v / 2) + e1 * 0.86 * ar * v * np.sqrt(1 - u * u / 2)
                H.pos[G[i, j]] = project(q[None], P, n=5)[0]
                H.pinned[G[i, j]] = H.pos[G[i, j]]
    nl = block_loop(NOSTRIL)
    r0 = [G[ij] for ij in nl]
    H.sets["nostril_rim"] = r0
    prev = r0
    for _ in range(3):
        prev = H.ring(prev, [H.pos[v] for v in prev], True)
        H.nostril_rings.append(prev)
    H.nostril_cap = cap(H, prev, nl, NOSTRIL)
    H.sets["nostril"] = [v for r in H.nostril_rings for v in r] + H.nostril_cap
