"""Vertex colours of the skin."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array


def skin_colours(S: RawPart, P: Head) -> Array:
    V = S.points
    col = np.tile(np.array(P["skin_col"], float), (len(V), 1))

    def tint(c: Array, w: Array) -> None:
        nonlocal col
        w = np.clip(w, 0, 1)[:, None]
        col = col * (1 - w) + np.asarray(c) * w

    ax = np.column_stack([np.abs(V[:, 0]), V[:, 1], V[:, 2]])
    g = lambda c, r: np.exp(-(((ax - np.asarray(c)) / np.asarray(r)) ** 2).sum(1))
    cc = np.array(P["cheek_c"])
    tint(P["blush_col"], P["blush"] * g(cc + [0.2, 0.3, 2.0], (2.0, 1.5, 2.5)))
    tint(P["blush_col"], P["blush"] * 0.8 * g((0, P["nose_tip"][0], P["nose_tip"][1] + 0.7), (1.3, 0.9, 1.5)))
    tint(P["blush_col"], P["blush"] * 0.7 * g(np.array(P["ear_c"]) + [1.0, 0, -0.6], (1.3, 2.2, 1.4)))
    w = np.zeros(len(V))
    for nm, a in [("lip_border", 0.45), ("lip_upper_mid", 1), ("lip_bulge", 1), ("lip_inner", 1), ("lip_contact", 1)]:
        w[S.sets[nm]] = a
    tint(P["lip_col"], w * 0.9)
    w = np.zeros(len(V))
    w[S.sets["mouth_bag"]] = 1
    tint((0.42, 0.10, 0.10), w)
    w = np.zeros(len(V))
    for nm in ("nostril_L", "nostril_R"):
        w[S.sets[nm]] = 0.75
    tint((0.22, 0.07, 0.06), w)
    for sd in "LR":
        w = np.zeros(len(V))
        w[S.sets["eye_lid_margin_" + sd]] = 0.6
        w[S.sets["eye_lid_inner_1_" + sd]] = 0.8
        w[S.sets["eye_lid_edge_outer_" + sd]] = 0.35
        tint((0.72, 0.38, 0.34), w)
    return col
