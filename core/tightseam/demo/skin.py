"""The whole skin: half built, mirrored bit for bit, named."""

from __future__ import annotations

import numpy as np

from tightseam.demo.collar_rings import add_collar_rings
from tightseam.demo.colours import skin_colours
from tightseam.demo.ear_rings import add_ear_rings
from tightseam.demo.eye_rings import add_eye_rings
from tightseam.demo.folds import fold
from tightseam.demo.guess import guess_grid
from tightseam.demo.mouth_rings import add_mouth_rings
from tightseam.demo.nose import seed_nose
from tightseam.demo.presets import Head
from tightseam.demo.raw import RawPart, consistent_winding
from tightseam.demo.relax import relax
from tightseam.demo.shape import Array
from tightseam.demo.topology import Half

SIDED = ("eye_", "lid_", "ear", "nostril")


def build_skin(P: Head) -> tuple[RawPart, Half]:
    """The skin part, and the half it was mirrored from."""
    half = Half()
    for step in (guess_grid, add_collar_rings, add_eye_rings, add_mouth_rings, seed_nose, add_ear_rings, relax, fold):
        step(half, P)
    points, quads, image = mirror_half(half)
    part = RawPart("skin", "skin", points, consistent_winding(quads, points), sets=_sets(half, image))
    part.colours = skin_colours(part, P)
    return part, half


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
