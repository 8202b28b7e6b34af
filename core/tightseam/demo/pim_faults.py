"""Pim as he comes from modelling: nothing rigged, and not fit to be rigged."""

from __future__ import annotations

import numpy as np

from tightseam.demo.brows import build_brow
from tightseam.demo.build import RawHead
from tightseam.demo.mesh_faults import (
    MeshFault,
    cut_corners,
    drop_span,
    flatten_eye,
    hide_scale,
    jumble,
    open_mouth,
    shift_pivot,
    spin_edge,
    vertex_at,
)  # fmt: skip
from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart

GAPE = 0.8  # mm
FLATTENED = 0.07
PIVOT_OFF = np.array([0.0, 0.18, -0.24])  # cm, 3 mm long
HIDDEN_SCALE = (1.08, 1.08, 1.08)
COARSE_ROWS = 5
NAPE = ((2.2, -15.0, -6.0), (-1.4, -13.0, -7.0), (0.9, -18.0, -4.0))  # from the crown, cm: where vertices are doubled


def plant_pim(head: RawHead, P: Head) -> tuple[MeshFault, ...]:
    """Faults planted in place: eyes flattened, pivots 3 mm off, mouth open by 0.8 mm, a span short on the left lower lid, a pole
    on the right upper lid, brows coarser than the skin, a jumbled patch in the mouth, a hidden scale on the hair, three
    duplicate vertices."""
    parts = {p.name: p for p in head.parts}
    skin, marks = parts["skin"], head.landmarks
    planted = [drop_span(skin, marks, "L", "lower", 0.6)]  # first: it numbers the skin anew
    planted += [open_mouth(skin, marks, GAPE), spin_edge(skin, marks, "R", "upper", 0.7)]
    lining = next(v for v in skin.sets["mouth_bag"] if skin.points[v, 0] > 0.8 and skin.points[v, 2] < marks["lip_upper"][2] - 2.5)
    planted.append(jumble(skin, lining, 2, 0.5, np.random.default_rng(3)))
    planted.append(cut_corners(skin, [vertex_at(skin, marks["crown"] + p) for p in NAPE]))
    for side, sign in (("L", 1), ("R", -1)):
        eye = parts[f"eye_{side}"]
        centre = marks[f"eye_centre_{side}"]
        planted += [flatten_eye(eye, side, FLATTENED, centre), shift_pivot(eye, side, centre, PIVOT_OFF * [sign, 1, 1])]
        planted.append(_coarsen(parts[f"brow_{side}"], P))
    planted.append(hide_scale(parts["hair"], HIDDEN_SCALE))
    return tuple(planted)


def _coarsen(brow: RawPart, P: Head) -> MeshFault:
    coarse = build_brow(P, np.random.default_rng(0), COARSE_ROWS, hairs=0)
    coarse.points = coarse.points + [0, P["lift"], 0]
    coarse = coarse if brow.name.endswith("_L") else coarse.mirrored(brow.name)
    brow.points, brow.polygons, brow.colours = coarse.points, coarse.polygons, coarse.colours
    return MeshFault(f"brow_density_{brow.name}", brow.name, tuple(range(len(brow.points))))
