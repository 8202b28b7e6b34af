"""A moustache of two layers of tufts, parted under the nose."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import face_sdf, lerp
from tightseam.demo.tubes import Soup
from tightseam.demo.tufts import add_tuft

LAYERS = ((12, 0.38), (9, 0.31))  # tufts a side, their width


def build_moustache(P: Head, rng: np.random.Generator) -> RawPart:
    S = Soup()
    sy, sz = P["subnasale"]
    my, w = P["mouth_y"], P["mouth_w"]
    taper = np.interp(np.linspace(0, 1, 9), [0, 0.2, 0.55, 0.8, 1], [0.45, 0.95, 1, 0.6, 0.08])
    for layer, (K, width) in enumerate(LAYERS):
        for k in range(K):
            f = k / (K - 1)
            x0, y0 = 0.02 + 1.45 * f, lerp(sy - 0.42, sy - 0.62, f)
            pts = np.array(
                [
                    [x0, y0, sz],
                    [x0 + 0.35 + 0.35 * f, lerp(y0, my, 0.50), sz],
                    [x0 + 0.95 + 0.65 * f, my - 0.15 + 0.40 * f, sz - 0.4],
                    [x0 + (1.7 + 1.15 * f) * w / 2.45, my - 0.75 + 0.95 * f + 0.15 * layer, sz - 0.9],
                ]
            )
            pts = pts + rng.normal(size=(4, 3)) * [[0], [0.06], [0.12], [0.24]]
            tips = 0.15 + 0.35 * rng.random()
            for side in (1, -1):
                add_tuft(
                    S, P, rng, pts * [side, 1, 1], width, 0.34, off=(0.34 + 0.14 * np.sin(np.pi * f)) + 0.26 * layer, n=9,
                    lift_tip=tips, surface=face_sdf, ridge=0.3, var=0.12, sink=0.2, shape=taper,
                )  # fmt: skip
    return S.part("whiskers", "whiskers")
