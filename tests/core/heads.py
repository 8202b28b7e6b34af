"""Raw heads changed in ways that no check may stumble over."""

from __future__ import annotations

import copy
from collections.abc import Callable

import igl
import numpy as np
from tightseam.checkin.report import Report, check_in
from tightseam.demo.build import RawHead
from tightseam.demo.cast import raw_parts
from tightseam.demo.raw import RawPart
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import About, Character, CheckIn

from tests.core.random_faults import renumbered, subdivided


def character_of(head: RawHead, unit_cm: float | None = None) -> tuple[Character, MemoryStore]:
    """A head without landmarks, as an import would give it."""
    store = MemoryStore()
    return Character(About("Somebody"), raw_parts(head, store), checkin=CheckIn(unit_cm=unit_cm)), store


def report_of(head: RawHead) -> Report:
    return check_in(*character_of(head))


def without_hair(head: RawHead) -> RawHead:
    """A copy without the parts that take most of the time and matter least."""
    return RawHead([copy.deepcopy(p) for p in head.parts if p.kind not in ("hair", "whiskers")], head.landmarks)


def moved(head: RawHead, change: Callable[[np.ndarray], np.ndarray]) -> RawHead:
    """The head with all points and pivots changed alike."""
    parts = without_hair(head).parts
    for p in parts:
        p.points = change(p.points)
        p.pivot = None if p.pivot is None else change(p.pivot[None])[0]
    return RawHead(parts, {name: change(np.asarray(m, float)[None])[0] for name, m in head.landmarks.items()})


def turned(head: RawHead, degrees: float) -> RawHead:
    a = np.radians(degrees)
    turn = np.array([[np.cos(a), 0, np.sin(a)], [0, 1, 0], [-np.sin(a), 0, np.cos(a)]])
    return moved(head, lambda p: p @ turn.T)


def scrambled(head: RawHead, seed: int) -> RawHead:
    rng = np.random.default_rng(seed)
    return RawHead([renumbered(p, rng) for p in without_hair(head).parts], head.landmarks)


def finer(head: RawHead) -> RawHead:
    return RawHead([subdivided(p) if p.kind == "skin" else p for p in without_hair(head).parts], head.landmarks)


def in_triangles(head: RawHead, side: int | None = None) -> RawHead:
    """Everything in triangles, or what lies on one side: 1 for the character's left, -1 for the right."""
    parts = without_hair(head).parts
    for p in parts:
        p.polygons = cut_in_two(p.polygons, np.ones(len(p.points), bool) if side is None else p.points[:, 0] * side > 0)
        p.face_colours = None
    return RawHead(parts, head.landmarks)


def cut_in_two(polygons: list[list[int]], chosen: np.ndarray) -> list[list[int]]:
    """Polygons in triangles from their first corner, where most of their vertices are `chosen` (N,)."""
    found = []
    for q in polygons:
        found += [[q[0], q[k], q[k + 1]] for k in range(1, len(q) - 1)] if chosen[q].mean() > 0.5 else [q]
    return found


def cut_in_four(points: np.ndarray, polygons: list[list[int]]) -> tuple[np.ndarray, list[list[int]]]:
    """Every polygon split at its middle and those of its edges: the vertices that were there come first, and lie where they lay."""
    more, middles, found = [*points], {}, []

    def middle(a: int, b: int) -> int:
        key = (min(a, b), max(a, b))
        if key not in middles:
            middles[key] = len(more)
            more.append((points[a] + points[b]) / 2)
        return middles[key]

    for q in polygons:
        centre = len(more)
        more.append(points[q].mean(axis=0))
        beside = [middle(a, b) for a, b in zip(q, [*q[1:], q[0]], strict=True)]
        found += [[q[k], beside[k], centre, beside[k - 1]] for k in range(len(q))]
    return np.array(more), found


def distorted(head: RawHead, rng: np.random.Generator) -> RawHead:
    """Smoothly: stretched along each axis, and swollen or pressed in here and there by some mm; half of them alike on both sides, the
    others sheared, too."""
    stretch, alike = np.diag(rng.uniform(0.87, 1.15, 3)), rng.random() < 0.5
    turn = stretch if alike else stretch + rng.normal(0, 0.03, (3, 3)) * (1 - np.eye(3))
    count = rng.integers(4, 10)
    places, wide = rng.uniform([-9, -12, -9], [9, 14, 12], (count, 3)), rng.uniform(3.5, 8, count)
    by = rng.normal(0, 0.35, (count, 3))

    def change(points: np.ndarray) -> np.ndarray:
        found = points @ turn.T
        for mirror in ([1, 1, 1], [-1, 1, 1]) if alike else ([1, 1, 1],):
            for place, reach, move in zip(places * mirror, wide, by * mirror, strict=True):
                found = found + np.exp(-((points - place) ** 2).sum(axis=1) / (2 * reach**2))[:, None] * move
        return found

    return moved(head, change)


def decimated(head: RawHead, share: float) -> RawHead:
    """In triangles, the skin with only a share of them."""
    coarse = in_triangles(head)
    for p in coarse.parts:
        if p.kind == "skin":
            triangles = np.array(p.polygons, np.int64)
            p.points, kept, *_ = igl.decimate(np.asarray(p.points, float), triangles, int(len(triangles) * share))
            p.polygons, p.sets = kept.tolist(), {}
    return coarse


def lacking(head: RawHead, *kinds: str) -> RawHead:
    return RawHead([p for p in without_hair(head).parts if p.kind not in kinds], head.landmarks)


def in_one_mesh(head: RawHead) -> RawHead:
    parts = without_hair(head).parts
    start, polygons = 0, []
    for p in parts:
        polygons += [[v + start for v in q] for q in p.polygons]
        start += len(p.points)
    whole = RawPart("head", "skin", np.concatenate([p.points for p in parts]), polygons)
    return RawHead([whole], head.landmarks)
