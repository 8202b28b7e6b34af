"""Directions about the eye centre, and the eyeball's bulge."""

from __future__ import annotations

import numpy as np

from tightseam.demo.shape import lerp, smooth_step
from tightseam.geometry.normals import unit
from tightseam.geometry.polyline import arc_length


def polar_dir(rho, phi):
    """Direction at polar angle rho from +Z, phi measured from +X towards +Y (radians)."""
    return np.stack([np.sin(rho) * np.cos(phi), np.sin(rho) * np.sin(phi), np.cos(rho)], -1)


def azel_dir(az, el):
    return np.stack([np.sin(az) * np.cos(el), np.sin(el), np.cos(az) * np.cos(el)], -1)


def eye_bulge(d, P):
    """Height of the eyeball above its sphere in direction d (cornea bulge), gaze along +Z."""
    ang = np.degrees(np.arccos(np.clip(unit(d)[..., 2], -1, 1)))
    return P["cornea"] * (1 - smooth_step(0, P["iris_deg"] * 1.12, ang))


def lid_margin(P, m=12):
    """Unit directions of the lid margin: inner corner, upper lid, outer corner, lower lid (2*m points)."""
    r = np.radians
    t = np.linspace(0, 1, 400)
    (ai, ei), (ao, eo) = P["open_in"], P["open_out"]

    def lid(t, up):
        az = lerp(ai, ao, t)
        if up:
            s = np.sin(np.pi * t**0.88) ** 0.85
            el = lerp(ei, eo, t) + P["open_up"] * s
        else:
            s = np.sin(np.pi * t**1.10) ** 0.80
            el = lerp(ei, eo, t) - P["open_lo"] * s
        return azel_dir(r(az + P["open_yaw"]), r(el))

    def resample(c):
        s = arc_length(c)
        u = np.linspace(0, 1, m + 1)
        x = np.stack([np.interp(u * s[-1], s, c[:, k]) for k in range(3)], -1)
        return unit(x)

    up, lo = resample(lid(t, True)), resample(lid(t, False))
    return np.concatenate([up, lo[1:-1][::-1]])
