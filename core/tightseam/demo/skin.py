"""The whole skin: half built, mirrored bit for bit, named."""

from __future__ import annotations

import numpy as np

from tightseam.demo.collar_rings import add_collar_rings
from tightseam.demo.colours import skin_colours
from tightseam.demo.ear_rings import add_ear_rings
from tightseam.demo.eye_rings import add_eye_rings
from tightseam.demo.guess import guess_grid
from tightseam.demo.mouth_rings import add_mouth_rings
from tightseam.demo.nose import seed_nose
from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart, consistent_winding
from tightseam.demo.relax import relax
from tightseam.demo.shape import Array
from tightseam.demo.topology import Half

SIDED = ("eye_", "lid_", "ear", "nostril")
# landmark -> (column, row) of the half grid
ON_GRID = {
    "nose_tip": (0, 17), "nose_base": (0, 13), "nasion": (0, 22), "glabella": (0, 25), "chin_front": (0, 7), "chin_under": (0, 6),
    "neck_front": (0, 2), "nose_wing_L": (4, 14), "cheek_L": (9, 15), "brow_inner_L": (5, 26), "brow_middle_L": (8, 26),
    "brow_outer_L": (11, 26), "jaw_angle_L": (13, 8),
}  # fmt: skip
EAR_TOP = (4, 4)  # ring, column


def build_skin(P: Head) -> tuple[RawPart, dict[str, int]]:
    """The skin part and its landmarks (name -> vertex), both sides."""
    half = Half()
    for step in (guess_grid, add_collar_rings, add_eye_rings, add_mouth_rings, seed_nose, add_ear_rings, relax):
        step(half, P)
    points, quads, image = mirror_half(half)
    part = RawPart("skin", "skin", points, consistent_winding(quads, points), sets=_sets(half, image))
    part.colours = skin_colours(part, P)
    return part, _landmarks(half, image)


def mirror_half(H: Half) -> tuple[Array, list[tuple[int, ...]], Array]:
    """Points and quads of both halves, and the mirror image of each vertex."""
    count, centre = len(H.points), np.array(H.center)
    off_centre = np.flatnonzero(~centre)
    to_right = np.arange(count)
    to_right[off_centre] = count + np.arange(len(off_centre))
    points = np.vstack([H.points, H.points[off_centre] * [-1, 1, 1]])
    quads = [tuple(q) for q in H.quads] + [tuple(int(to_right[v]) for v in q[::-1]) for q in H.quads]
    image = np.arange(len(points))
    image[:count] = to_right
    image[to_right[off_centre]] = off_centre
    return points, quads, image


def _sets(H: Half, image: Array) -> dict[str, list[int]]:
    sets: dict[str, list[int]] = {}
    for name, vertices in H.sets.items():
        left = [int(v) for v in vertices]
        right = [int(image[v]) for v in vertices]
        if name.startswith(SIDED):
            sets[name + "_L"], sets[name + "_R"] = left, right
        else:
            sets[name] = sorted({*left, *right})
    return sets


def _landmarks(H: Half, image: Array) -> dict[str, int]:
    marks = {name: int(H.grid[at]) for name, at in ON_GRID.items()}
    marks["crown"] = int(H.crown[0, H.crown.shape[1] // 2])
    contact, border = H.sets["lip_contact"], H.sets["lip_border"]
    margin, crease = H.sets["eye_lid_margin"], H.sets["eye_crease"]
    half = len(margin) // 2
    marks |= {
        "mouth_corner_L": contact[len(contact) // 2], "lip_upper": contact[0], "lip_lower": contact[-1],
        "lip_top": border[0], "lip_bottom": border[-1],
        "lid_inner_L": margin[0], "lid_outer_L": margin[half], "lid_upper_L": margin[half // 2], "lid_lower_L": margin[half + half // 2],
        "lid_fold_upper_L": crease[half // 2], "lid_fold_lower_L": crease[half + half // 2],
        "ear_top_L": H.sets["ear"][EAR_TOP[0] * len(H.sets["ear_base"]) + EAR_TOP[1]],
    }  # fmt: skip
    marks |= {name[:-1] + "R": int(image[v]) for name, v in list(marks.items()) if name.endswith("_L")}
    return {name: int(v) for name, v in marks.items()}
