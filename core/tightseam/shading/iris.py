"""What is painted on an eyeball, read over the angle from where it looks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.geometry.areas import polygon_areas
from tightseam.geometry.normals import unit
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.types import Floats
from tightseam.head.gaze import gaze_of

BINS = 128  # from the gaze to straight behind
SOFT = (0.25, 0.5, 0.25)  # rings go over into one another within a bin
DARK = 0.03  # luminance below which the middle is pupil
SPREAD = 0.06  # mean deviation within a ring from where an eye is not painted in rings
IRIS = (8.0, 65.0)  # degrees between which its edge may lie
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


@dataclass(frozen=True)
class PaintedEye:
    """An eyeball painted in rings: its `centre` (3,) and `radius` in cm, the way it looks (3,), where `pupil` and `iris` end in radians
    from that, and its colours (BINS, 3), linear, from the gaze to straight behind."""

    centre: Floats
    radius: float
    gaze: Floats
    pupil: float
    iris: float
    colours: Floats


def painted_eye(points: Floats, polygons: Polygons, face_colours: Floats) -> PaintedEye | None:
    """An eye as it is painted; `face_colours` (F, 3) in sRGB. None where it looks nowhere, or is not painted in rings: such an eye can
    only be shown as it came."""
    centre, radius = fit_sphere(points)
    gaze = gaze_of(points, polygons, centre, radius)
    if gaze is None or not np.isfinite(radius) or radius <= 0:
        return None
    angles = np.arccos(np.clip(unit(points - centre) @ gaze, -1, 1))
    sums, colours = _ring_sums(angles, polygons, polygon_areas(points, polygons), _linear(face_colours))
    if sums is None:
        return None
    light = colours @ LUMINANCE
    rise = np.diff(light[: BINS // 2])
    iris = int(rise.argmax()) + 1
    if not IRIS[0] < np.degrees(iris / BINS * np.pi) < IRIS[1] or rise.max() < DARK:
        return None
    pupil = next((b for b in range(1, iris) if light[b] > DARK), iris)
    padded = np.vstack([colours[:1], colours, colours[-1:]])
    soft = sum(share * padded[k : k + BINS] for k, share in enumerate(SOFT))
    return PaintedEye(centre, radius, gaze, pupil / BINS * np.pi, iris / BINS * np.pi, np.asarray(soft))


def _ring_sums(angles: Floats, polygons: Polygons, areas: Floats, colours: Floats) -> tuple[Floats | None, Floats]:
    """Area and mean colour of each ring of directions; no areas where the colours within rings differ."""
    starts = np.concatenate([[0], np.cumsum(polygons.sizes)[:-1]])
    low, high = (ufunc.reduceat(angles[polygons.corners], starts) / np.pi * BINS for ufunc in (np.minimum, np.maximum))
    first = np.clip(np.floor(low + 0.5).astype(int), 0, BINS - 1)
    last = np.clip(np.ceil(high - 0.5).astype(int), first + 1, BINS)
    counts = last - first
    face = np.repeat(np.arange(len(first)), counts)
    ring = np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts) + first[face]
    weight = areas[face] / counts[face] + 1e-12
    sums = np.bincount(ring, weight, BINS).astype(np.float64)
    filled = np.flatnonzero(sums > 0)
    sums_1, sums_2 = (
        np.stack([np.bincount(ring, weight * (colours[face, k] ** power), BINS) for k in range(3)], axis=1) for power in (1, 2)
    )
    mean, square = (x / np.maximum(sums, 1e-300)[:, None] for x in (sums_1, sums_2))
    deviation = np.sqrt(np.maximum(square - mean**2, 0)).mean(axis=1)
    even = float((deviation[filled] * sums[filled]).sum() / sums[filled].sum()) < SPREAD
    nearest = filled[np.abs(np.arange(BINS)[:, None] - filled).argmin(axis=1)]
    return (sums if even else None), mean[nearest]


def _linear(colours: Floats) -> Floats:
    colours = np.clip(np.asarray(colours, np.float64), 0, 1)
    return np.where(colours <= 0.04045, colours / 12.92, ((colours + 0.055) / 1.055) ** 2.4)
