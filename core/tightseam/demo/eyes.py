"""Eyeballs whose rings lie exactly on pupil and iris borders."""

from __future__ import annotations

import numpy as np

from tightseam.demo.directions import eye_bulge, polar_dir
from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import lerp


def build_eye(P: Head, side: int) -> RawPart:
    """Eyeball: rings round the gaze axis (+Z), ring edges exactly on pupil and iris borders."""
    R = P["eye_r"]
    c = np.asarray(P["eye_c"], float)
    n = 32
    pu, ir = P["pupil_deg"], P["iris_deg"]
    degs = [
        pu * 0.5,
        pu * 0.92,
        pu,
        lerp(pu, ir, 0.2),
        lerp(pu, ir, 0.45),
        lerp(pu, ir, 0.7),
        ir * 0.93,
        ir,
        ir * 1.07,
        ir * 1.25,
        ir * 1.6,
        56,
        66,
        78,
        90,
        101,
        112,
        130,
        148,
        165,
    ]
    V = [[0, 0, R + P["cornea"]]]
    F = []
    grp = []
    for d in degs:
        a = np.radians(d)
        ph = 2 * np.pi * np.arange(n) / n
        D = polar_dir(np.full(n, a), ph)
        V += list(D * (R + eye_bulge(D, P))[:, None])
    V.append([0, 0, -R])
    V = np.array(V)
    ic = np.array(P["iris_col"])
    G = {0: (0.015, 0.012, 0.012), 1: tuple(ic), 2: tuple(ic * 0.30), 3: (0.93, 0.91, 0.88), 4: tuple(np.clip(ic * 1.45 + 0.06, 0, 1))}
    for k in range(n):
        F.append([0, 1 + k, 1 + (k + 1) % n])
        grp.append(0)
    for r in range(len(degs) - 1):
        g = (
            0
            if degs[r + 1] <= pu + 1e-6
            else 4
            if degs[r + 1] <= lerp(pu, ir, 0.45) + 1e-6
            else 1
            if degs[r + 1] <= ir * 0.93 + 1e-6
            else 2
            if degs[r + 1] <= ir + 1e-6
            else 3
        )
        for k in range(n):
            a = 1 + r * n
            b = a + n
            F.append([a + k, b + k, b + (k + 1) % n, a + (k + 1) % n])
            grp.append(g)
    a = 1 + (len(degs) - 1) * n
    L = len(V) - 1
    for k in range(n):
        F.append([a + k, L, a + (k + 1) % n])
        grp.append(3)
    part = RawPart("eye_L", "eye", V + c, F, face_colours=np.array([G[g] for g in grp]))
    return part if side > 0 else part.mirrored("eye_R")
