"""Small meshes: tufts, curves, rounded boxes."""

from __future__ import annotations

import numpy as np

from tightseam.demo.raw import RawPart, consistent_winding
from tightseam.demo.shape import Array
from tightseam.geometry.normals import unit
from tightseam.geometry.polyline import arc_length


class Soup:
    """Collects islands (own vertices, polygons, colours) into one part."""

    def __init__(self) -> None:
        self.V: list[Array] = []
        self.F: list[list[int]] = []
        self.C: list[Array] = []
        self.n = 0

    def add(self, V: Array, F: list[list[int]], C: Array) -> None:
        V = np.asarray(V, float)
        C = np.broadcast_to(np.asarray(C, float), V.shape)
        self.V.append(V)
        self.C.append(C)
        self.F += [[v + self.n for v in f] for f in F]
        self.n += len(V)

    def part(self, name: str, kind: str) -> RawPart:
        points = np.vstack(self.V)
        return RawPart(name, kind, points, consistent_winding(self.F, points), np.vstack(self.C))


def tube(
    path: Array,
    nrm: Array,
    width: Array,
    thick: Array,
    seg: int = 8,
    flat: float | Array = 0.45,
    ridge: float = 0.0,
    tips: tuple[float, float] = (0.3, 0.5),
    combed: float = 0.0,
) -> tuple[Array, list[list[int]]]:
    """Closed lens-section tube (a tuft): path (n,3), outward normals (n,3), half width and half thickness (n)."""
    path = np.asarray(path, float)
    n = len(path)
    T = unit(np.gradient(path, axis=0))
    N = unit(nrm - (nrm * T).sum(1, keepdims=True) * T)
    B = np.cross(T, N)
    a = 2 * np.pi * np.arange(seg) / seg
    low = np.broadcast_to(flat, (n,))
    V = []
    for i in range(n):
        c, s_ = np.cos(a), np.sin(a)
        h = np.where(s_ > 0, s_, s_ * low[i]) * thick[i]
        h = h - ridge * thick[i] * (s_ > 0) * np.exp(-(((c - 0.15) / 0.22) ** 2))
        h = h - combed * thick[i] * (s_ > 1e-9) * (
            0.5 - 0.5 * np.cos(2 * np.pi * c)
        )  # two furrows, three strands; takes a section of twelve
        w = c * width[i]
        V += list(path[i] + w[:, None] * B[i] + h[:, None] * N[i])
    F = []
    for i in range(n - 1):
        for k in range(seg):
            k2 = (k + 1) % seg
            F.append([i * seg + k, i * seg + k2, (i + 1) * seg + k2, (i + 1) * seg + k])
    V.append(path[0] - T[0] * tips[0] * width[0])
    V.append(path[-1] + T[-1] * tips[1] * width[-1])
    for k in range(seg):
        k2 = (k + 1) % seg
        F.append([len(V) - 2, k2, k])
        F.append([len(V) - 1, (n - 1) * seg + k, (n - 1) * seg + k2])
    return np.array(V), F


def spline(pts: Array, n: int) -> Array:
    """Uniform Catmull-Rom through pts, n samples evenly spaced in arc length."""
    p = np.asarray(pts, float)
    p = np.vstack([2 * p[0] - p[1], p, 2 * p[-1] - p[-2]])
    out = []
    for i in range(1, len(p) - 2):
        t = np.linspace(0, 1, 24, endpoint=False)[:, None]
        out.append(
            0.5
            * (
                2 * p[i]
                + (p[i + 1] - p[i - 1]) * t
                + (2 * p[i - 1] - 5 * p[i] + 4 * p[i + 1] - p[i + 2]) * t**2
                + (3 * p[i] - p[i - 1] - 3 * p[i + 1] + p[i + 2]) * t**3
            )
        )
    q = np.vstack(out + [p[-2:-1]])
    s = arc_length(q)
    u = np.linspace(0, s[-1], n)
    return np.stack([np.interp(u, s, q[:, k]) for k in range(3)], -1)


def rounded_box(size: Array, p: float = 6.0, n: int = 4, taper: float = 0.0) -> tuple[Array, list[list[int]]]:
    """Cube grid pulled to a super-ellipsoid; all quads.  size = half extents."""
    idx, V, F = {}, [], []
    g = np.linspace(-1, 1, n + 1)

    def vid(q: tuple[int, ...]) -> int:
        if q not in idx:
            idx[q] = len(V)
            c = np.array([g[k] for k in q])
            V.append(c / (np.abs(c) ** p).sum() ** (1 / p))
        return idx[q]

    for ax in range(3):
        for sd in (0, n):
            for u in range(n):
                for v in range(n):
                    f = []
                    for du, dv in ((0, 0), (1, 0), (1, 1), (0, 1)):
                        q = [0, 0, 0]
                        q[ax] = sd
                        q[(ax + 1) % 3] = u + du
                        q[(ax + 2) % 3] = v + dv
                        f.append(vid(tuple(q)))
                    F.append(f if sd else f[::-1])
    V = np.array(V)
    V = V * np.asarray(size)
    V[:, 0] *= 1 - taper * (V[:, 1] / size[1]) * 0.5
    return V, F
