"""The colours of a skin, painted on its vertices."""

from __future__ import annotations

import numpy as np

from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart
from tightseam.demo.shape import Array, lerp, smooth_step

FRECKLE, SPOT = (0.60, 0.34, 0.22), (0.66, 0.44, 0.33)


def skin_colours(S: RawPart, P: Head) -> Array:
    """sRGB (N, 3)."""
    paint = _Paint(S.points, P["skin_col"])
    _belts(paint, P)
    _sockets(paint, P)
    _hollows(paint, P)
    _blush(paint, P)
    paint.on(paint.base * [0.90, 0.78, 0.74], 0.55, S.sets.get("furrow", []))
    _spots(paint, P)
    _mouth(paint, S, P)
    return np.clip(paint.colours, 0, 1)


class _Paint:
    """Layers over a base coat. Places are those of the left side; the right one is painted alike."""

    def __init__(self, points: Array, base: Array) -> None:
        self.points = points
        self.base = np.array(base, float)
        self.colours = np.tile(self.base, (len(points), 1))
        self._folded = np.column_stack([np.abs(points[:, 0]), points[:, 1], points[:, 2]])

    def over(self, colour: Array, share: Array) -> None:
        """A layer that covers each vertex by its share (N,)."""
        w = np.clip(share, 0, 1)[:, None]
        self.colours = self.colours * (1 - w) + np.asarray(colour) * w

    def blot(self, colour: Array, share: float, centre: Array, radii: Array) -> None:
        """A soft blot, fullest in its middle."""
        self.over(colour, share * np.exp(-(((self._folded - np.asarray(centre)) / np.asarray(radii)) ** 2).sum(1)))

    def on(self, colour: Array, share: float, vertices: list[int]) -> None:
        w = np.zeros(len(self.points))
        w[vertices] = share
        self.over(colour, w)


def _belts(paint: _Paint, P: Head) -> None:
    """A golden forehead, a ruddy middle, a cooler jaw; the neck a shade deeper."""
    base, chin = paint.base, P["chin_c"]
    paint.blot(base * [1.02, 1.03, 0.94], 0.55, (0, P["cran_c"][1] + 3.2, 6.5), (6.5, 3.2, 5.5))
    paint.blot(base * [0.99, 0.90, 0.86], 0.55 * P["ruddy"], (2.4, P["eye_c"][1] - 2.6, 7.2), (4.2, 2.4, 4.0))
    paint.blot(base * [0.93, 0.955, 0.985], P["beard"], (0, lerp(P["mouth_y"], chin[1], 0.75), 5.4), (4.8, 2.6, 4.2))
    paint.over(base * [0.95, 0.90, 0.88], smooth_step(chin[1] - 0.6, chin[1] - 3.4, paint.points[:, 1]) * 0.5)


def _sockets(paint: _Paint, P: Head) -> None:
    """A cool shade under the brow and under the lower lid, pink at the inner corner."""
    base, eye, R = paint.base, np.array(P["eye_c"]), P["eye_r"]
    paint.blot(base * [0.90, 0.80, 0.80], 0.60 * P["ruddy"], eye + [-0.1, R * 0.72, R * 0.7], (R * 1.0, R * 0.34, R))
    paint.blot(base * [0.90, 0.80, 0.82], 0.55 * P["ruddy"], eye + [-0.1, -R * 0.80, R * 0.75], (R * 0.95, R * 0.26, R))
    paint.blot((0.80, 0.42, 0.38), 0.40, eye + [-R * 0.92, -R * 0.05, R * 0.62], (R * 0.26, R * 0.26, R * 0.5))


def _hollows(paint: _Paint, P: Head) -> None:
    """The wings of the nose, and the furrow under the lip."""
    base, r = paint.base, P["ala_r"]
    paint.blot(base * [0.88, 0.70, 0.66], 0.55, np.array(P["ala_c"]) + [r * 0.95, 0.05, -r * 0.6], (0.34, 0.6, 0.8))
    paint.blot(base * [0.92, 0.80, 0.78], 0.45, (0, P["mouth_y"] - P["lip_l"] * 1.55, 7.5), (1.5, 0.36, 2.5))


def _blush(paint: _Paint, P: Head) -> None:
    """Cheeks, the tip of the nose, ears with their rim and lobe, chin."""
    colour, share, size = P["blush_col"], P["blush"], P["ear_s"]
    ear, chin = np.array(P["ear_c"]), P["chin_c"]
    paint.blot(colour, share, np.array(P["cheek_c"]) + [0.2, 0.3, 2.0], (2.0, 1.5, 2.5))
    paint.blot(colour, share * 0.8, (0, P["nose_tip"][0], P["nose_tip"][1] + 0.7), (1.3, 0.9, 1.5))
    paint.blot(colour, share * 0.55, ear + [1.0, 0, -0.6], (1.3, 2.2, 1.4))
    paint.blot(colour, share * 0.65, ear + [1.3, 2.0 * size, -1.0], (1.2, 0.9, 1.6))
    paint.blot(colour, share * 0.65, ear + [0.8, -2.0 * size, 0.1], (1.2, 0.8, 1.2))
    paint.blot(colour, share * 0.45, (0, chin[1] + 0.2, chin[2] + 1.2), (1.2, 0.9, 1.6))


def _spots(paint: _Paint, P: Head) -> None:
    """Freckles, each on the vertex it falls on, and spots of age."""
    rng = np.random.default_rng(11)
    for kind, count, share, centre, spread in P["spots"]:
        for at in np.asarray(centre) + rng.normal(size=(count, 3)) * spread:
            at[0] *= rng.choice((-1, 1))
            far = ((paint.points - at) ** 2).sum(1)
            vertex, full = int(far.argmin()), share * (0.5 + 0.5 * rng.random())
            if kind == "freckle":
                paint.on(FRECKLE, full, [vertex])
            else:
                paint.over(SPOT, full * np.exp(-((paint.points - paint.points[vertex]) ** 2).sum(1) / 0.55**2))


def _mouth(paint: _Paint, S: RawPart, P: Head) -> None:
    """Lips, darker where they meet, the lining behind them, and nostrils."""
    shares = np.zeros(len(paint.points))
    for name, share in (("lip_border", 0.30), ("lip_upper_mid", 0.86), ("lip_bulge", 0.94), ("lip_inner", 1), ("lip_contact", 1)):
        shares[S.sets[name]] = share
    paint.over(P["lip_col"], shares * 0.9)
    shares = np.zeros(len(paint.points))
    for name, share in (("lip_inner", 0.30), ("lip_contact", 0.75)):
        shares[S.sets[name]] = share
    paint.over(np.array(P["lip_col"]) * [0.68, 0.50, 0.50], shares)
    paint.on((0.55, 0.17, 0.17), 1, S.sets["mouth_bag"])
    for side in "LR":
        paint.on((0.22, 0.07, 0.06), 0.75, S.sets[f"nostril_{side}"])
        shares = np.zeros(len(paint.points))
        for name, share in (("margin", 0.6), ("inner_1", 0.8), ("edge_outer", 0.35)):
            shares[S.sets[f"eye_lid_{name}_{side}"]] = share
        paint.over((0.72, 0.38, 0.34), shares)
