"""Relaxation of everything that no formula pins, on the implicit surface."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import face_sdf, gradient, project
from tightseam.demo.topology import Half, neighbour_table
from tightseam.geometry.normals import unit

STEPS = 90


def relax(H: Half, P: Head) -> None:
    G = H.grid
    X = np.array(H.pos)
    N = len(X)
    cen = np.array(H.center)
    T, M = neighbour_table(N, H.quads)
    # a centre vertex sees its off-centre neighbours twice (their mirror images)
    Wt = M * np.where(cen[:, None] & ~cen[T], 2.0, 1.0)
    # inside the rings pull mostly along the spokes, else sharp corners (mouth, canthi) fold over
    rid = -np.ones(N, int)
    for k, ring in enumerate(H.mouth_rings[1:6] + H.eye_rings[1:6]):
        rid[ring] = k
    Wt = Wt * np.where((rid[:, None] >= 0) & (rid[:, None] == rid[T]), 0.2, 1.0)
    lock = np.zeros(N, bool)
    lock[list(H.pinned)] = True
    nost = H.sets["nostril"]
    lock[nost] = True
    lock[H.smooth_only] = True
    free = np.where(~lock)[0]
    rate = np.full(N, 0.5)
    rate[H.soft] = 0.005
    rate[[G[0, 13], G[1, 13]]] = 0.12
    X[free] = project(X[free], P, n=6)
    X[cen, 0] = 0
    for it in range(STEPS):
        avg = (X[T] * Wt[..., None]).sum(1) / Wt.sum(1, keepdims=True)
        avg[cen, 0] = 0
        step = avg[free] - X[free]
        Y = X[free] + rate[free, None] * step
        X[free] = project(Y, P, n=1) if it % 2 else Y  # projection costs most of the time; every second step will do
        X[cen, 0] = 0
    X[free] = project(X[free], P, n=4)
    X[cen, 0] = 0
    # nostril dent: block border = outline on the nose, ring 1 = rim (on the surface), then up and in
    rim = np.array(H.sets["nostril_rim"])
    cpt = X[rim].mean(0)
    nrm = unit(gradient(face_sdf, cpt[None], P))[0]
    dent = unit(nrm * 0.7 + np.array([0.05, -0.6, 0.05]))
    ns = P["nostril"]
    for ring, (s, dep) in zip(H.nostril_rings, [(0.62, None), (0.50, 0.10), (0.40, 0.5)]):
        q = cpt + (X[rim] - cpt) * s
        if dep is None:
            q = project(q, P, n=5)
        X[ring] = q - dent * (dep or 0) * ns
    X[H.nostril_cap] = X[H.nostril_rings[-1]].mean(0) - dent * 0.05
    for _ in range(60):  # caps: plain averaging
        avg = (X[T] * Wt[..., None]).sum(1) / Wt.sum(1, keepdims=True)
        X[H.smooth_only] = avg[H.smooth_only]
        X[cen, 0] = 0
    H.points = X
