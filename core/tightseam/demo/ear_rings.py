"""Ear rings: an egg outline, ten times scaled and moved out."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import lerp, project, smooth_step
from tightseam.demo.topology import EAR, Half, block_loop, cap


def add_ear_rings(H: Half, P: Head) -> None:
    G, es = H.grid, P["ear_s"]
    al = block_loop(EAR)
    r0 = [G[ij] for ij in al]
    na = len(al)
    # ring starts at mid front side, goes up, back, down, forward again
    ang = np.pi - 2 * np.pi * np.arange(na) / na  # pi = front, pi/2 = up, 0 = back
    e0 = np.asarray(P["ear_c"], float)
    ca, sa = np.cos(ang), np.sin(ang)  # ca:+ = back, sa:+ = up
    back = 0.5 + 0.5 * ca  # 0 front .. 1 back
    upw = 0.5 + 0.5 * sa

    def ear_pts(scale, out, backout):
        """scale of outline, distance out of the head side, extra out at the rear (flare)."""
        wz = 1.18 * (1 + 0.20 * sa)  # wider at the top
        hy = np.where(sa > 0, 2.05, 2.15)
        sc = scale * es
        dz = -wz * ca * sc - 0.25 * sa * es  # leans back at the top
        dy = hy * sa * sc
        o = (out + backout * back**0.8 * (0.75 + 0.25 * upw)) * es * P["ear_flare"]
        return np.column_stack([e0[0] + o, e0[1] + dy, e0[2] + dz - 0.25 * o])

    base = ear_pts(0.80, 0, 0)
    base = project(base, P, n=8)
    for v, p in zip(r0, base):
        H.pos[v] = p
        H.pinned[v] = p
    H.sets["ear_base"] = list(r0)
    prev = r0
    frontmask = smooth_step(0.02, 0.35, back)  # 0 at the very front
    ears = []
    #            scale out  backout  weight of front following the head
    for sc, out, bo, fr in [
        (0.80, 0.10, 0.45, 1),
        (0.98, 0.12, 0.95, 1),
        (1.16, 0.18, 1.20, 1),
        (1.22, 0.30, 1.32, 1),
        (1.14, 0.42, 1.36, 1),
        (1.00, 0.34, 1.10, 1),
        (0.86, 0.30, 0.95, 1),
        (0.72, 0.32, 0.98, 1),
        (0.58, 0.05, 0.55, 1),
        (0.42, -0.10, 0.30, 1),
    ]:
        p = ear_pts(sc, out, bo)
        # the front of the ear melts into the cheek
        p = lerp(base + np.array([0.02, 0, 0]) + (p - base) * np.array([0.6, 0.35, 0.25]), p, frontmask[:, None])
        prev = H.ring(prev, p, True)
        ears += prev
        for v in prev:
            H.pinned[v] = H.pos[v]
    c = cap(H, prev, al, EAR)
    H.smooth_only += c
    H.sets["ear"] = ears + c
