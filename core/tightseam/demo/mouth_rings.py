"""Lip rings and the mouth bag by formula."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import lerp, march_z, project
from tightseam.demo.topology import MOUTH, Half, cap, half_loop


def add_mouth_rings(H: Half, P: Head) -> None:
    G, my = H.grid, P["mouth_y"]
    ms = P["mouth_w"] / 2.35
    hl = half_loop(MOUTH)
    r0 = [G[ij] for ij in hl]
    n = len(hl)
    mid = n // 2
    k = np.arange(n)
    isup = k <= mid
    t = np.where(isup, k / mid, (n - 1 - k) / mid)  # 0 centre .. 1 corner
    t = 1 - (1 - t) ** 1.12
    sg = np.where(k < mid, 1.0, np.where(k > mid, -1.0, 0.0))
    xc = P["mouth_w"]
    slit = my + P["corner_lift"] * t**2 - 0.05 * np.exp(-((t / 0.28) ** 2)) + 0.04 * np.exp(-(((t - 0.45) / 0.2) ** 2))
    bowU = (1 - t**2) ** 0.80 * (1 - P["bow"] * np.exp(-((t / 0.16) ** 2)))
    bowL = (1 - t**2.3) ** 0.68
    lipH = np.where(isup, P["lip_u"] * bowU, P["lip_l"] * bowL)
    full = np.where(isup, P["full_u"] * (1 - t**3) ** 0.6 * (1 + 0.12 * np.exp(-((t / 0.2) ** 2))), P["full_l"] * (1 - t**2.6) ** 0.7)

    def lip_pts(dx, fy, dz, fz, y_add=0.0):
        x = (xc + dx) * t
        x[0] = x[-1] = 0
        y = slit + sg * lipH * fy + y_add
        zs = march_z(x, my + (y - my) * 0.9, P)
        return np.column_stack([x, y, zs + fz * full + dz])

    corner = t**6
    mrings = H.mouth_rings
    mrings.append(r0)
    p_border = lip_pts(0.27 * ms, 1.0, 0.0, 0.10)
    p_out = project(lip_pts(0.42 * ms, 1.0, 0.0, 0.0, sg * 0.12 * ms), P, n=4)
    p_out[[0, -1], 0] = 0
    for q in range(1, 6):  # ring 5 is held just outside the lip, else relaxation folds it over the corner
        base = np.array([H.pos[v] for v in r0])
        mrings.append(H.ring(mrings[-1], p_out if q == 5 else lerp(base, p_out, q / 5), False, True))
    ov = np.where(sg < 0, 1.0, -1.0) * (1 - t**8)  # lips press into one another so that smoothing cannot open them
    lipplan = [
        ("lip_border", p_border),
        ("lip_upper_mid", lip_pts(0.20 * ms, 0.80, -0.02 * corner, 0.62)),
        ("lip_bulge", lip_pts(0.13 * ms, 0.46, -0.05 * corner, 1.0)),
        ("lip_inner", lip_pts(0.07 * ms, 0.15, -0.10 * corner, 0.88, 0.02 * ov)),
        ("lip_contact", lip_pts(0.0, 0.0, -0.10 - 0.08 * corner, 0.50, 0.055 * ov)),
    ]
    pc = lipplan[-1][1]
    for nm, pts in lipplan:
        ring = H.ring(mrings[-1], pts, False, True)
        mrings.append(ring)
        H.sets[nm] = ring
    arch = lambda depth, hu, hd, xs, flat, p: np.column_stack(
        [
            xs * xc * t,
            lerp(slit, my, flat) + np.where(sg > 0, hu, hd) * sg * np.sqrt(np.maximum(1 - t**p, 0)),
            lerp(pc[:, 2], pc[0, 2] - 0.1, flat) - depth - 0.16 * corner,
        ]
    )
    bagplan = [
        tuple(np.array(a) * [ms if a[0] > 0.45 else 1, ms if a[1] > 0 else 1, ms if a[1] > 0 else 1, 1, 1, 1])
        for a in [  # depth, up, down, width, flatness, squareness
            (0.20, -0.045, -0.045, 1.0, 0.0, 2.6),
            (0.42, 0.36, 0.36, 0.975, 0.0, 2.6),
            (0.55, 1.0, 0.95, 0.95, 0.0, 3.0),
            (0.80, 1.60, 1.60, 0.96, 0.05, 3.6),
            (1.50, 2.0, 2.2, 1.02, 0.15, 5.0),
            (3.0, 2.1, 2.45, 1.06, 0.5, 5.5),
            (4.7, 1.9, 2.35, 0.98, 0.9, 5.0),
            (5.9, 1.3, 1.6, 0.70, 1.0, 3.5),
        ]
    ]
    for q, a in enumerate(bagplan):
        ring = H.ring(mrings[-1], arch(*a), False, True)
        mrings.append(ring)
    H.sets["mouth_bag"] = [v for r in mrings[-len(bagplan) :] for v in r]
    for q, ring in enumerate(mrings):
        H.sets[f"mouth_ring_{q:02d}"] = list(ring)
        if q >= 5:
            for v in ring:
                H.pinned[v] = H.pos[v]
    c = cap(H, mrings[-1], hl, MOUTH, True)
    H.smooth_only += c
    H.sets["mouth_bag"] += c
