"""Where the landmarks of a head lie, from the formulas it is made of: the truth that suggestions are held against."""

from __future__ import annotations

import numpy as np

from tightseam.demo.mouth_parts import tongue_ends
from tightseam.demo.presets import Head
from tightseam.demo.shape import Array, face_sdf, gradient, march_z, project
from tightseam.demo.topology import Half
from tightseam.geometry.normals import unit

FINE = 0.01  # cm between the places a formula is read at
WALL = 15.0  # degrees within which the side of the nose counts as facing most outwards
UNDER = 70.0  # degrees by which the chin has turned from facing forward to facing down


def place_marks(half: Half, brow: Array, P: Head) -> dict[str, Array]:
    """All landmarks (name -> point (3,)), both sides, before the head is lifted. `brow` (K, 3) is the left brow."""
    marks = _on_rings(half)
    marks |= _profile(P, marks)
    marks |= _face(P, marks) | _under_brow(brow, P)
    marks |= _inside(P, marks)
    marks |= _jaw(P, marks)
    marks |= {f"{name[:-2]}_R": p * [-1, 1, 1] for name, p in marks.items() if name.endswith("_L")}
    return {name: np.asarray(p, float) for name, p in marks.items()}


def _on_rings(H: Half) -> dict[str, Array]:
    """Lids, lips and ears are rings laid by formula: their landmarks are vertices of them."""
    contact, border = H.sets["lip_contact"], H.sets["lip_border"]
    margin, crease = H.sets["eye_lid_margin"], H.sets["eye_crease"]
    half = len(margin) // 2
    vertices = {
        "mouth_corner_L": contact[len(contact) // 2], "lip_upper": contact[0], "lip_lower": contact[-1],
        "lip_top": border[0], "lip_bottom": border[-1],
        "lid_inner_L": margin[0], "lid_outer_L": margin[half], "lid_upper_L": margin[half // 2], "lid_lower_L": margin[half + half // 2],
    }  # fmt: skip
    marks = {name: H.points[v] for name, v in vertices.items()}
    for lid, part in (("upper", crease[: half + 1]), ("lower", crease[half:])):
        line = H.points[part][np.argsort(H.points[part][:, 0])]
        x = marks[f"lid_{lid}_L"][0]  # over the middle of the margin
        marks[f"lid_fold_{lid}_L"] = np.array([np.interp(x, line[:, 0], line[:, k]) for k in range(3)])
    ear = H.points[H.sets["ear"]]
    top = ear[ear[:, 1] > ear[:, 1].max() - FINE]
    return marks | {"ear_top_L": (top.min(axis=0) + top.max(axis=0)) / 2}


def _profile(P: Head, marks: dict[str, Array]) -> dict[str, Array]:
    """The middle line, read where the surface is hit from the front, from above and from below."""
    y = np.arange(P["chin_c"][1] - P["chin_r"][1] + 0.3, P["bone_c"][1] + 6, FINE)
    line = np.column_stack([0 * y, y, march_z(0 * y, y, P)])
    nose = line[np.abs(y - P["nose_tip"][0]) < P["tip_r"]]
    tip = nose[nose[:, 2].argmax()]
    bridge = line[y > tip[1]]
    forehead = line[y > P["brow_y"]]
    touched = forehead[((forehead[:, 2] - tip[2]) / (forehead[:, 1] - tip[1])).argmax()]  # by a ruler laid on the tip
    below = line[(y < tip[1]) & (y > marks["lip_top"][1])]
    z = np.arange(P["chin_c"][2] - 3, P["chin_c"][2] + 1.2, FINE)
    under = _trace(np.column_stack([0 * z, 0 * z - 20, z]), np.array([0, 1.0, 0]), P)
    normal = gradient(face_sdf, under, P)
    turned = np.degrees(np.arctan2(-normal[:, 1], normal[:, 2])) >= UNDER
    chin_under = under[turned][-1]
    chin = line[(y < marks["lip_bottom"][1]) & (y > chin_under[1])]
    z = np.arange(-4, 4, FINE)
    top = _trace(np.column_stack([0 * z, 0 * z + 16, z]), np.array([0, -1.0, 0]), P)
    return {
        "crown": top[top[:, 1].argmax()],
        "nasion": _farthest(bridge[bridge[:, 1] < touched[1]], tip, touched),
        "nose_tip": tip,
        "nose_base": _farthest(below, tip, marks["lip_top"]),
        "chin_front": _farthest(chin, marks["lip_bottom"], chin_under),
        "chin_under": chin_under,
    }


def _face(P: Head, marks: dict[str, Array]) -> dict[str, Array]:
    x = np.arange(0.4, P["ala_c"][0] + P["ala_r"] * 1.4, FINE)
    side = _level_line(x, (marks["nose_tip"][1] + marks["nose_base"][1]) / 2, P)
    normal = gradient(face_sdf, side, P)
    facing = np.degrees(np.arctan2(normal[:, 0], normal[:, 2]))
    wall = np.flatnonzero(facing > facing.max() - WALL)
    x = np.arange(marks["lid_upper_L"][0], 7.0, FINE)
    front = _level_line(x, (marks["lid_fold_lower_L"][1] + marks["mouth_corner_L"][1]) / 2, P)
    return {
        "nose_wing_L": side[wall].mean(axis=0),
        "cheek_L": front[(front[:, 0] + front[:, 2]).argmax()],
    }


def _under_brow(brow: Array, P: Head) -> dict[str, Array]:
    x = brow[:, 0]
    slices = [np.abs(x - at) <= wide * np.ptp(x) for at, wide in ((x.min(), 0.04), ((x.min() + x.max()) / 2, 0.1), (x.max(), 0.04))]
    ends = np.array([brow[s].mean(axis=0) for s in slices])
    return dict(zip(("brow_inner_L", "brow_middle_L", "brow_outer_L"), project(ends, P, n=8), strict=True))


def _inside(P: Head, marks: dict[str, Array]) -> dict[str, Array]:
    ear = np.asarray(P["ear_c"], float)
    top, bottom = (np.asarray(P[k], float) for k in ("neck_top", "neck_bot"))
    root, tip = tongue_ends(P)
    return {
        "eye_centre_L": np.asarray(P["eye_c"], float),
        "jaw_hinge_L": ear + [-1.2, -0.9, 0.8],
        "neck_top": top + (bottom - top) * (marks["nose_base"][1] - top[1]) / (bottom[1] - top[1]),
        "neck_base": bottom,
        "tongue_root": root,
        "tongue_tip": tip,
    }


def _jaw(P: Head, marks: dict[str, Array]) -> dict[str, Array]:
    hinge = marks["jaw_hinge_L"]
    beside = np.array([[12.0, marks["lip_bottom"][1], hinge[2]]])
    return {"jaw_angle_L": _trace(beside, np.array([-1.0, 0, 0]), P)[0]}


def _level_line(x: Array, y: float, P: Head) -> Array:
    return np.column_stack([x, 0 * x + y, march_z(x, 0 * x + y, P)])


def _farthest(line: Array, a: Array, b: Array) -> Array:
    """The point of a line of the middle plane that lies farthest off the chord from `a` to `b`."""
    along = unit(b - a)
    return line[np.linalg.norm(np.cross(line - a, along), axis=1).argmax()]


def _trace(start: Array, direction: Array, P: Head) -> Array:
    """Where rays from `start` (N, 3) first meet the surface (sphere tracing, Hart 1996)."""
    p = start.copy()
    for _ in range(80):
        p += 0.8 * face_sdf(p, P)[:, None] * direction
    return p
