"""The shape of a head as an implicit surface: a smooth union of ellipsoids and round cones."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from tightseam.demo.presets import Head

Array = Any
Field = Callable[[Array, Head], Array]


def smooth_step(a, b, x):
    t = np.clip((x - a) / (b - a), 0, 1)
    return t * t * (3 - 2 * t)


def lerp(a, b, t):
    return a + (b - a) * t


def smooth_min(a, b, k):
    h = np.clip(0.5 + 0.5 * (b - a) / k, 0, 1)
    return b + (a - b) * h - k * h * (1 - h)


def smooth_max(a, b, k):
    return -smooth_min(-a, -b, k)


def ellipsoid(p, c, r):
    q = p - np.asarray(c, float)
    r = np.broadcast_to(np.asarray(r, float), (3,))
    k0 = np.linalg.norm(q / r, axis=1)
    k1 = np.linalg.norm(q / r**2, axis=1)
    return k0 * (k0 - 1) / np.maximum(k1, 1e-9)


def round_cone(p, a, b, ra, rb):
    a = np.asarray(a, float)
    b = np.asarray(b, float)
    d = b - a
    h = np.clip((p - a) @ d / (d @ d), 0, 1)
    return np.linalg.norm(p - a - h[:, None] * d, axis=1) - (ra + (rb - ra) * h)


def skull_sdf(p, P):
    """Cranium + face + neck without eyes, nose and ears (also used as the scalp for hair)."""
    q = np.column_stack([np.abs(p[:, 0]), p[:, 1], p[:, 2]])
    d = ellipsoid(q, P["cran_c"], P["cran_r"])
    d = smooth_min(d, ellipsoid(q, P["face_c"], P["face_r"]), P["face_k"])
    d = smooth_min(d, ellipsoid(q, P["jaw_c"], P["jaw_r"]), P["jaw_k"])
    d = smooth_min(d, ellipsoid(q, P["chin_c"], P["chin_r"]), P["chin_k"])
    d = smooth_min(d, ellipsoid(q, P["bone_c"], P["bone_r"]), 1.6)
    d = smooth_min(d, ellipsoid(q, P["cheek_c"], P["cheek_r"]), P["cheek_k"])
    if P["jowl"] > 0:
        d = smooth_min(d, ellipsoid(q, P["jowl_c"], np.asarray(P["jowl_r"]) * P["jowl"]), 1.0)
    d = smooth_min(d, ellipsoid(q, P["muzzle_c"], P["muzzle_r"]), P["muzzle_k"])
    # temple hollow
    if P["temple"] > 0:
        t = np.exp(-(((q - np.array([6.6, 2.2, 4.2])) / np.array([1.8, 2.4, 2.4])) ** 2).sum(1))
        d = d + P["temple"] * t
    # neck
    n = round_cone(q, P["neck_top"], P["neck_bot"], P["neck_r"], P["neck_r"])
    nb = P["neck_bot"][1]
    n = n - P["neck_flare"] * smooth_step(nb + 3.5, nb - 2.0, q[:, 1])
    n = smooth_min(n, ellipsoid(q, P["throat_c"], P["throat_r"]), 1.0)
    n = smooth_min(n, round_cone(q, *P["neck_cord"]), 1.1)  # from behind the ear to the notch between the collar bones
    n = smooth_min(n, ellipsoid(q, P["shoulder_c"], P["shoulder_r"]), P["shoulder_k"])
    n = smooth_min(n, round_cone(q, *P["collar_bone"]), 0.55)
    d = smooth_min(d, n, P["neck_k"])
    return d


def face_sdf(p, P):
    q = np.column_stack([np.abs(p[:, 0]), p[:, 1], p[:, 2]])
    d = skull_sdf(p, P)
    ec = np.asarray(P["eye_c"])
    R = P["eye_r"]
    # brow ridge: a bent round cone over the eye
    by, bz, br = P["brow_y"], P["brow_z"], P["brow_r"]
    b = np.minimum(
        round_cone(q, (1.2, by - 0.15, bz + 0.1), (3.3, by + 0.35, bz - 0.25), br * 0.9, br),
        round_cone(q, (3.3, by + 0.35, bz - 0.25), (5.3, by - 0.35, bz - 2.2), br, br * 0.8),
    )
    d = smooth_min(d, b, P["brow_k"])
    # eye socket
    s = ellipsoid(q, ec + np.array([-0.05, 0.05, 1.0]), np.array([R * 1.04, R * 0.95, R * 0.92]))
    d = smooth_max(d, -s, 0.9)
    # nose
    ry, rz = P["nose_root"]
    my, mz = P["nose_mid"]
    ty, tz = P["nose_tip"]
    n = np.minimum(
        round_cone(q, (0, ry, rz), (0, my, mz), P["bridge_r"] * 0.85, P["bridge_r"]),
        round_cone(q, (0, my, mz), (0, ty, tz), P["bridge_r"], P["tip_r"] * 0.85),
    )
    n = smooth_min(n, ellipsoid(q, (0, ty, tz), P["tip_r"]), 0.5)
    a = ellipsoid(q, P["ala_c"], np.array([0.95, 0.92, 1.15]) * P["ala_r"])
    n = smooth_min(n, round_cone(q, (0, ty - 0.45, tz - 0.35), (0, P["subnasale"][0], P["subnasale"][1] - 0.3), 0.42, 0.5), 0.4)
    n = smooth_min(n, a, P["ala_k"])
    fill = (
        (0, P["ala_c"][1] - 0.12 * P["ala_r"], lerp(P["ala_c"][2], tz, 0.30)),  # bridges tip and wings, carries the nostrils
        (P["ala_c"][0] + 0.35 * P["ala_r"], P["ala_r"] * 0.86, 0.5 * (tz - P["ala_c"][2]) + 0.9 * P["ala_r"]),
    )
    n = smooth_min(n, ellipsoid(q, *fill), 0.25)
    d = smooth_min(d, n, P["nose_k"])
    for centre, radii, depth in P["dents"]:  # hollows; bumps where the depth is negative
        d = d + depth * np.exp(-(((q - np.asarray(centre)) / np.asarray(radii)) ** 2).sum(1))
    # lids wrap the eyeball
    d = smooth_min(d, np.linalg.norm(q - ec, axis=1) - (R + P["lid"]), P["lid_k"])
    return d


TETRAHEDRON = np.array([[1, -1, -1], [-1, -1, 1], [-1, 1, -1], [1, 1, 1]], float)


def gradient(f, p, P, h=0.01):
    """Central differences at the corners of a tetrahedron, all in one call of `f`: most calls are small, and cost by the call."""
    around = f((p + h * TETRAHEDRON[:, None]).reshape(-1, 3), P).reshape(4, -1)
    return (around.T @ TETRAHEDRON) / (4 * h)


def project(p, P, f=face_sdf, off=0.0, n=4, damp=1.0):
    p = np.array(p, float)
    for _ in range(n):
        d = f(p, P) - off
        g = gradient(f, p, P)
        p -= damp * d[:, None] * g / np.maximum((g * g).sum(1, keepdims=True), 0.25)
    return p


def march_z(x, y, P, f=face_sdf, z0=12.5, off=0.0):
    """First hit of rays coming from the front (direction -Z)."""
    x, y = np.broadcast_arrays(np.asarray(x, float), np.asarray(y, float))
    p = np.column_stack([x.ravel(), y.ravel(), np.full(x.size, z0)])
    for _ in range(36):
        p[:, 2] -= 0.9 * (f(p, P) - off)
    return p[:, 2].reshape(x.shape)
