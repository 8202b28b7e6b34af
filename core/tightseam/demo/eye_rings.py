"""Lid rings by formula: the margin almond in polar coordinates about the gaze axis, grown and shrunk."""

from __future__ import annotations

import numpy as np

from tightseam.demo.directions import eye_bulge, lid_margin, polar_dir
from tightseam.demo.presets import Head
from tightseam.demo.shape import lerp, project
from tightseam.demo.topology import EYE, Half, block_loop
from tightseam.geometry.normals import unit


def add_eye_rings(H: Half, P: Head) -> None:
    G = H.grid
    ec = np.asarray(P["eye_c"], float)
    R = P["eye_r"]
    loop = block_loop(EYE)
    r0 = [G[ij] for ij in loop]
    md = lid_margin(P, len(loop) // 2)
    rho = np.arccos(np.clip(md[:, 2], -1, 1))
    phi = np.arctan2(md[:, 1], md[:, 0])
    up = np.clip(np.sin(phi), 0, 1)
    lo = np.clip(-np.sin(phi), 0, 1)
    side = np.abs(np.cos(phi))

    def eye_pts(rh, rad):
        d = polar_dir(rh, phi)
        return ec + d * (rad + (eye_bulge(d, P)))[:, None]

    rad_ = np.radians
    eyerings = H.eye_rings
    eyerings.append(r0)
    NFREE = 4
    cre = rho + rad_(P["crease"]) * up + rad_(P["lowbag"]) * lo + rad_(11) * side**3
    p_cre = project(eye_pts(cre, R + P["lid"]), P, n=5)
    p_cre = p_cre - unit(p_cre - ec) * (P["crease_in"] * up)[:, None]
    for k in range(1, NFREE + 1):
        base = np.array([H.pos[v] for v in r0])
        eyerings.append(H.ring(eyerings[-1], lerp(base, p_cre, k / (NFREE + 1)), True))
    wgt = lambda a: rho + rad_(a * P["crease"] * up + a * P["lowbag"] * lo + a * 8 * side**3)
    plan = [
        (cre, R + P["lid"] - P["crease_in"], "crease"),
        (wgt(0.55), R + P["lid"], "lid_mid"),
        (wgt(0.16), R + P["lid"], "lid_hold"),
        (rho + rad_(0.9), R + P["lid"] * 0.82, "lid_edge_outer"),
        (rho, R + P["gap"], "lid_margin"),
        (lerp(rho, rad_(112), 0.06), R + P["gap"], "lid_inner_1"),
        (lerp(rho, rad_(112), 0.20), R + P["gap"] + 0.01, "lid_inner_2"),
        (lerp(rho, rad_(112), 0.42), R + P["gap"] + 0.07, "lid_inner_3"),
        (lerp(rho, rad_(112), 0.70), R + P["gap"] + 0.18, "lid_inner_4"),
        (rad_(112) + 0 * rho, R + P["gap"] + 0.34, "socket_back"),
    ]
    for rh, rad, nm in plan:
        pts = p_cre if nm == "crease" else eye_pts(rh, rad)
        if nm == "lid_mid":  # only the upper lid stays on the sphere; below and at the corners follow the skin
            pts = lerp(project(pts, P, n=5), pts, (up**0.7)[:, None])
        ring = H.ring(eyerings[-1], pts, True)
        eyerings.append(ring)
        H.sets["eye_" + nm] = ring
        for v in ring:
            H.pinned[v] = H.pos[v]
    for k, ring in enumerate(eyerings):
        H.sets[f"eye_ring_{k:02d}"] = list(ring)
    m = len(loop) // 2
    mr = H.sets["eye_lid_margin"]
    H.sets["lid_margin_upper"] = mr[: m + 1]
    H.sets["lid_margin_lower"] = [mr[0]] + mr[: m - 1 : -1]
