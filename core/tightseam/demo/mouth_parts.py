"""Teeth with gums, and the tongue."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array, march_z
from tightseam.demo.tubes import Soup, rounded_box, tube
from tightseam.geometry.polyline import arc_length


def mouth_front(P: Head) -> float:
    return float(march_z(0.0, P["mouth_y"], P)) + 0.45 * P["full_l"] - 0.12


def build_teeth(P: Head, upper: bool) -> RawPart:
    my = P["mouth_y"]
    ms = P["mouth_w"] / 2.35
    zf = mouth_front(P) - 0.45 - (0.38 if upper else 0.76) * ms
    ws = (
        np.array([0.60, 0.50, 0.52, 0.54, 0.60]) * P["mouth_w"] / 2.35
        if upper
        else np.array([0.42, 0.44, 0.48, 0.52, 0.58]) * P["mouth_w"] / 2.35
    )
    A, B = (0.84 * P["mouth_w"], 2.7 * ms) if upper else (0.78 * P["mouth_w"], 2.55 * ms)
    th = np.linspace(0, np.radians(88), 400)
    c = np.stack([A * np.sin(th), 0 * th, zf - B * (1 - np.cos(th))], -1)
    s = arc_length(c)

    def at(d: float) -> tuple[Array, float]:
        t = np.interp(d, s, th)
        return np.array([A * np.sin(t), 0, zf - B * (1 - np.cos(t))]), np.arctan2(A * np.cos(t), B * np.sin(t))

    S = Soup()
    hgt = (0.60, 0.54, 0.57, 0.50, 0.46) if upper else (0.44, 0.45, 0.48, 0.42, 0.40)
    hgt = np.array(hgt) * ms
    y0 = my - 0.38 * ms if upper else my - 0.45 * ms  # biting edge
    sg = 1 if upper else -1
    d = 0.0
    for ti, (w, h) in enumerate(zip(ws, hgt)):
        p, yaw = at(d + w / 2)
        d += w * 0.955
        V, F = rounded_box((w * 0.515, h, 0.24 * ms), p=4.6, taper=-0.20 * sg)
        e = (V[:, 1] * sg + h) / (2 * h)  # 0 at the edge, 1 at the root
        V[:, 2] = V[:, 2] * (0.62 + 0.38 * e)
        V[:, 1] += sg * h
        a = np.pi / 2 - yaw
        for mx in (1, -1):
            W = np.column_stack([V[:, 0] * np.cos(a) + V[:, 2] * np.sin(a), V[:, 1], -V[:, 0] * np.sin(a) + V[:, 2] * np.cos(a)])
            W = W + p + [0, y0 + (0.05 if upper else -0.09) * ti * ms, 0]
            W[:, 0] *= mx
            shade = np.column_stack(
                [np.interp(e, [0, 0.14, 0.5, 1], c) for c in ((0.86, 0.96, 0.95, 0.88), (0.87, 0.94, 0.92, 0.79), (0.86, 0.89, 0.83, 0.62))]
            )
            S.add(W, F, shade)
    # gum: half round strip over the roots
    L = d + 0.2
    u = np.linspace(-L, L, 49)
    path = np.array([at(abs(x))[0] * [np.sign(x) or 1, 1, 1] for x in u]) + [0, y0 + sg * 1.02 * ms, -0.08]
    roots = np.concatenate([[0], np.cumsum(ws * 0.955)])  # the gum reaches down between the teeth
    near = np.abs(np.abs(u)[:, None] - roots).min(axis=1)
    reach = 0.48 + 0.13 * np.exp(-((near / 0.16) ** 2))
    V, F = tube(
        path,
        np.tile([0, 1.0 * sg, 0], (len(u), 1)),
        np.full(len(u), 0.34 * ms),
        np.full(len(u), 0.40 * ms),
        seg=8,
        flat=reach / 0.40,
        tips=(0.4, 0.4),
    )
    S.add(V, F, np.array([0.74, 0.34, 0.35]))
    return S.part("teeth_upper", "teeth upper") if upper else S.part("teeth_lower", "teeth lower")


def tongue_ends(P: Head) -> Array:
    """Root and tip of the tongue, (2, 3)."""
    return _tongue_path(P, np.array([1.0, 0.0]))


def _tongue_path(P: Head, u: Array) -> Array:
    """The middle of the tongue from its tip (u 0) to its root (1)."""
    ms = P["mouth_w"] / 2.35
    y = P["mouth_y"] + ms * (-0.78 - 0.05 * u + 0.20 * np.sin(np.pi * u))
    return np.column_stack([0 * u, y, mouth_front(P) - 0.45 - 1.14 * ms - 3.35 * ms * u])


def build_tongue(P: Head) -> RawPart:
    ms = P["mouth_w"] / 2.35
    n, seg = 11, 12
    u = np.linspace(0, 1, n)
    path = _tongue_path(P, u)
    a = 2 * np.pi * np.arange(seg) / seg
    V = []
    wid = P["mouth_w"] * 0.60 * np.clip(1 - (1 - np.minimum(u / 0.42, 1)) ** 2.3, 0.12, 1) ** 0.5
    thk = 0.36 * ms * np.clip(1 - (1 - np.minimum(u / 0.35, 1)) ** 2, 0.15, 1) ** 0.5 + 0.22 * ms * u
    for i in range(n):
        _, y, z = path[i]
        c, s_ = np.cos(a), np.sin(a)
        x = wid[i] * np.sign(c) * np.abs(c) ** 0.75
        h = thk[i] * np.sign(s_) * np.abs(s_) ** 0.8
        h = h - 0.10 * thk[i] / 0.36 * (s_ > 1e-9) * np.exp(-((c / 0.25) ** 2)) * np.sin(np.pi * min(u[i] * 1.1, 1))
        V += list(np.column_stack([x, y + h, np.full(seg, z)]))
    F = [[i * seg + k, i * seg + (k + 1) % seg, (i + 1) * seg + (k + 1) % seg, (i + 1) * seg + k] for i in range(n - 1) for k in range(seg)]
    V = np.array(V)
    for end in (0, n - 1):  # close both ends with quads across
        r = [end * seg + k for k in range(seg)]
        for k in range(seg // 2 - 1):
            F.append([r[k], r[k + 1], r[seg - 2 - k], r[seg - 1 - k]] if seg - 2 - k != k + 1 else [r[k], r[k + 1], r[seg - 1 - k]])
    S = Soup()
    S.add(V, F, (0.74, 0.33, 0.34))
    return S.part("tongue", "tongue")
