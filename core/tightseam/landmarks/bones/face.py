"""Bones of the face: brows, lids, lips, cheeks, nose, ears. Helpers carry those that belong together."""

from __future__ import annotations

import numpy as np

from tightseam.geometry.types import Floats
from tightseam.landmarks.bones.maker import BoneMaker, axes_along

OUT = 1.0  # cm, how far a bone of the face points out of the skin
SIDES = ("L", "R")


def add_brows(maker: BoneMaker, count: int) -> None:
    """`count` bones along each brow, under a helper that moves all of them."""
    if not count:
        return
    for side in SIDES:
        inner, middle, outer = (maker.mark(f"brow_{place}_{side}", "A brow") for place in ("inner", "middle", "outer"))
        helper = maker.add(f"brow_{side}", f"Brow {side}", "head", middle, middle + _out(maker), "brows", "helper")
        for k, point in enumerate(_curve(inner, middle, outer, _shares(count))):
            maker.add(f"brow_{k + 1}_{side}", f"Brow {k + 1} {side}", helper, point, point + _out(maker), "brows")


def add_lids(maker: BoneMaker, count: int) -> None:
    """`count` bones a lid that turn about the eye, under a helper that closes the lid."""
    if not count:
        return
    for side in SIDES:
        centre = maker.mark(f"eye_centre_{side}", "A lid")
        inner, outer = maker.mark(f"lid_inner_{side}", "A lid"), maker.mark(f"lid_outer_{side}", "A lid")
        across = outer - inner if side == "L" else inner - outer  # towards the character's left
        for lid, label in (("upper", "Upper lid"), ("lower", "Lower lid")):
            middle = maker.mark(f"lid_{lid}_{side}", "A lid")
            axes = axes_along(across, middle - centre)
            helper = maker.add(f"lid_{lid}_{side}", f"{label} {side}", "head", centre, middle, "lids", "helper", axes)
            for k, point in enumerate(_curve(inner, middle, outer, _shares(count))):
                own = axes_along(across, point - centre)
                maker.add(f"lid_{lid}_{k + 1}_{side}", f"{label} {k + 1} {side}", helper, centre, point, "lids", axes=own)


def add_lips(maker: BoneMaker, count: int) -> None:
    """`count` bones along each lip between the corners, under a helper; the corners hang on the head."""
    if not count:
        return
    left, right = maker.mark("mouth_corner_L", "The mouth"), maker.mark("mouth_corner_R", "The mouth")
    for lip, label, parent in (("upper", "Upper lip", "head"), ("lower", "Lower lip", "jaw")):
        middle = maker.mark(f"lip_{lip}", "A lip")
        helper = maker.add(f"lip_{lip}", label, parent, middle, middle + _out(maker), "mouth", "helper")
        points = _curve(right, middle, left, _shares(count))
        for k, point in enumerate(points):
            name, said = _lip_name(lip, k, count)
            maker.add(name, f"{label} {said}", helper, point, point + _out(maker), "mouth")
    for side, corner in (("L", left), ("R", right)):
        maker.add(f"mouth_corner_{side}", f"Mouth corner {side}", "head", corner, corner + _out(maker), "mouth")


def _lip_name(lip: str, k: int, count: int) -> tuple[str, str]:
    """Bones of a lip are numbered from the middle outwards, on each side."""
    half = count // 2
    if count % 2 and k == half:
        return f"lip_{lip}_middle", "middle"
    number, side = (half - k, "R") if k < half else (k - half + (0 if count % 2 else 1), "L")
    return f"lip_{lip}_{number}_{side}", f"{number} {side}"


def add_cheeks(maker: BoneMaker) -> None:
    for side in SIDES:
        cheek = maker.mark(f"cheek_{side}", "A cheek")
        maker.add(f"cheek_{side}", f"Cheek {side}", "head", cheek, cheek + _out(maker), "cheeks")


def add_nose(maker: BoneMaker) -> None:
    """A bone from root to tip, and one a wing."""
    root, tip = maker.mark("nasion", "The nose"), maker.mark("nose_tip", "The nose")
    maker.add("nose", "Nose", "head", root, tip, "nose")
    for side in SIDES:
        wing = maker.mark(f"nose_wing_{side}", "The nose")
        maker.add(f"nose_wing_{side}", f"Nose wing {side}", "nose", wing, wing + _out(maker), "nose")


def add_ears(maker: BoneMaker) -> None:
    """From where an ear grows out of the head, beside the hinge, to its top."""
    for side in SIDES:
        top, hinge = maker.mark(f"ear_top_{side}", "An ear"), maker.mark(f"jaw_hinge_{side}", "An ear")
        root = hinge + ((top - hinge) @ maker.axes[0]) * maker.axes[0]
        maker.add(f"ear_{side}", f"Ear {side}", "head", root, top, "ears")


def _out(maker: BoneMaker) -> Floats:
    return np.asarray(OUT * maker.axes[2])


def _shares(count: int) -> Floats:
    """Places of `count` bones between two ends, evenly, none at an end."""
    return (np.arange(count) + 0.5) / count


def _curve(start: Floats, middle: Floats, end: Floats, shares: Floats) -> Floats:
    """Points (K, 3) at shares of the parabola through three points."""
    t = shares[:, None]
    return np.asarray(2 * (t - 0.5) * (t - 1) * start - 4 * t * (t - 1) * middle + 2 * t * (t - 0.5) * end)
