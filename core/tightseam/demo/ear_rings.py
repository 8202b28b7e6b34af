"""Ear rings: an egg outline, ten times scaled and moved out."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.shape import lerp, project, smooth_step
from tightseam.demo.topology import EAR, Half, block_loop, cap

# scale of the outline, distance out, extra out at the rear, how far the lobe fills it, how far the tragus stands over it
EAR_PLAN = (
    (0.80, 0.10, 0.45, 0, 0), (0.98, 0.12, 0.95, 0, 0), (1.16, 0.18, 1.20, 0, 0), (1.22, 0.31, 1.34, 0, 0), (1.15, 0.48, 1.48, 0, 0),
    (1.03, 0.36, 1.16, 1, 0), (0.90, 0.04, 0.72, 1, 0.3), (0.74, 0.30, 1.20, 0.8, 1.0), (0.58, -0.10, 0.34, 0.3, 1.1), (0.42, -0.42, -0.10, 0, 0.3),
)  # fmt: skip


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

    lobe = smooth_step(-0.50, -0.90, sa)
    tragus = np.exp(-(((sa + 0.05) / 0.34) ** 2) - (back / 0.12) ** 2)

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
    for scale, out, backout, flat, bump in EAR_PLAN:
        # the lobe is full: there the bowl does not sink in
        p = lerp(ear_pts(scale, out, backout), ear_pts(scale, 0.34, 1.16), (flat * lobe)[:, None])
        # the front of the ear melts into the cheek
        p = lerp(base + np.array([0.02, 0, 0]) + (p - base) * np.array([0.6, 0.35, 0.25]), p, frontmask[:, None])
        p = p + (bump * es * tragus)[:, None] * [0.30, 0.0, -0.26]
        if 0.7 < scale < 0.8:  # the inner fold forks at the top and leaves a hollow between
            p = p - (0.34 * es * np.exp(-(((sa - 0.86) / 0.16) ** 2)))[:, None] * [1, 0, 0]
        if 0.5 < scale < 0.6:  # the foot of the rim runs into the bowl
            p = p + (0.30 * es * np.exp(-(((sa - 0.30) / 0.22) ** 2) - ((back - 0.12) / 0.20) ** 2))[:, None] * [1, 0, 0]
        prev = H.ring(prev, p, True)
        ears += prev
        for v in prev:
            H.pinned[v] = H.pos[v]
    c = cap(H, prev, al, EAR)
    H.smooth_only += c
    H.sets["ear"] = ears + c
