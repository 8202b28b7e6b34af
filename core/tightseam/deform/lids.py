"""Lids laid out for evaluation: the arc on which they close, the line they meet on, and how they follow the gaze."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from tightseam.deform import backend
from tightseam.deform.curves import compile_curve
from tightseam.deform.eyes import CompiledEye
from tightseam.deform.meshes import Meshes, rows_among
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import CurveKeys, GazeFollow, Lids
from tightseam.geometry.normals import unit
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints

LINE_STEPS = 513
PER_DEGREE = 4
PASS_BY = 0.012  # rad by which closed margins pass each other, so that a subdivided surface, which rounds them off, shows no slit
WIDEST = 0.5  # of the closing that lids can be opened beyond their rest, neared softly


@dataclass(frozen=True)
class LidArc:
    """Where points lie about an eye. Rows of `axes` (3, 3): along the lids towards the outer corner, up, forward; `inner` is the inner
    corner's place (cm) along the first from `centre`, `length` the way to the outer one."""

    centre: Floats
    axes: Floats
    inner: float
    length: float

    @classmethod
    def through(cls, centre: Floats, inner: Floats, outer: Floats) -> LidArc:
        """The arc about the line through the eye's `centre` parallel to that between the corners; BadRequest where these do not lie
        before the eye."""
        length = float(np.linalg.norm(outer - inner))
        along = unit(outer - inner)
        ahead = (inner + outer) / 2 - centre
        forward: Floats = ahead - (ahead @ along) * along
        if length < 1e-3 or np.linalg.norm(forward) < 0.05 * length:
            raise BadRequest("The corners of the lids do not lie before their eye; look at the landmarks and the eye.")
        forward = unit(forward)
        up = np.cross(forward, along)
        axes = np.stack([along, up if up[1] >= 0 else -up, forward])
        return cls(centre, axes, float((inner - centre) @ along), length)

    @cached_property
    def single(self) -> tuple[Floats, Floats, np.float32, np.float32]:
        """Axes, centre, inner and length in float32, as the loops of a frame take them."""
        axes, centre = read_only(self.axes, np.float32), read_only(self.centre, np.float32)
        return axes, centre, np.float32(self.inner), np.float32(self.length)

    def place(self, points: Floats) -> tuple[Floats, Floats]:
        """For points (K, 3): how far from the inner corner (0) to the outer (1), along the axis, and the angle about it, radians."""
        x, y, z = ((points - self.centre) @ self.axes.T).T
        return (x - self.inner) / self.length, np.arctan2(y, z)


@dataclass(frozen=True)
class Follow:
    """How one lid follows its eye, as tables (721,) over -90° to 90° in quarters of a degree: nothing for the gaze straight ahead."""

    height: Floats
    across: Floats
    slide: Floats

    def at(self, height: float, across: float) -> tuple[float, float]:
        """Closing and slide (radians) for a gaze in degrees."""
        return _read(self.height, height) + _read(self.across, across), _read(self.slide, across)


def _read(table: Floats, degrees: float) -> float:
    place = min(max((degrees + 90) * PER_DEGREE, 0.0), len(table) - 1.0)
    k = min(int(place), len(table) - 2)
    return float(table[k] + (table[k + 1] - table[k]) * (place - k))


@dataclass(frozen=True)
class LidTurning:
    """What turns about an eye: `vertices` (K,), for each 1 in `upper` where it goes with the upper lid and its `share`; the rows of the
    margins among them, those of the lower one from `margin_start`; and the angles (2, 513) to which both lids close."""

    arc: LidArc
    vertices: Ints
    upper: Ints
    share: Floats
    margin_rows: Ints
    margin_start: int
    closed: Floats

    @classmethod
    def of(cls, skin: Floats, lids: Lids, store: ArrayStore, centre: Floats, first: int = 0) -> LidTurning:
        """That of `lids` on a neutral `skin` (N, 3) whose vertices are counted from `first`, about an eye's `centre` (3,)."""
        vertices, of_upper, share, upper, lower = (
            np.asarray(store.get(key)) for key in (lids.vertices, lids.upper, lids.share, lids.upper_margin, lids.lower_margin)
        )
        arc = LidArc.through(centre, skin[upper[0]], skin[upper[-1]])
        return cls(
            arc,
            (vertices.astype(np.int64) + first).astype(np.int32),
            of_upper.astype(np.uint8),
            share.astype(np.float32),
            rows_among(vertices, len(skin))[np.concatenate([upper, lower])],
            len(upper),
            closed_line(arc, skin[upper], skin[lower], lids.line).astype(np.float32),
        )

    @property
    def margins(self) -> tuple[Ints, Ints]:
        """Vertices of the upper and the lower margin, from the inner to the outer corner."""
        found = self.vertices[self.margin_rows]
        return found[: self.margin_start], found[self.margin_start :]

    def turn(self, loops: Any, points: Floats, closing: Floats, slide: Floats, turned: Floats) -> None:
        """Turn `points` (N, 3) in place by a closing and a slide (radians) of each lid, (2,); `turned` (K, 2) receives both by vertex."""
        axes, centre, inner, length = self.arc.single
        vertices, upper, share, margin_rows, closed = map(read_only, (self.vertices, self.upper, self.share, self.margin_rows, self.closed))
        loops.close_lids(
            points, vertices, upper, share, margin_rows, self.margin_start, closed, axes, centre, inner, length,
            read_only(closing, np.float32), read_only(slide, np.float32), turned,
        )  # fmt: skip


@dataclass(frozen=True)
class CompiledLids:
    """The lids of one eye with global vertex numbers. `outward` is 1 where the outer corner lies to the character's left, else -1."""

    eye: CompiledEye
    turning: LidTurning
    outward: float
    follow: tuple[Follow, Follow]
    lash_vertices: Ints
    lash_rows: Ints

    def close(self, points: Floats, closing: Floats, slide: Floats) -> None:
        """Turn skin and lashes among `points` (N, 3) in place by a closing and a slide (radians) of each lid, (2,)."""
        self.turn(backend.current(), points, closing, slide, np.empty((len(self.turning.vertices), 2), np.float32))

    def with_share(self, share: Floats) -> CompiledLids:
        """The same with another share (K,) 0..1 of the closing for each vertex."""
        return replace(self, turning=replace(self.turning, share=share.astype(np.float32)))

    def turn(self, loops: Any, points: Floats, closing: Floats, slide: Floats, turned: Floats) -> None:
        """As `close`, by the loops that are handed over; `turned` as of `LidTurning.turn`."""
        axes, centre = self.turning.arc.single[:2]
        self.turning.turn(loops, points, closing, slide, turned)
        loops.turn_with(points, read_only(self.lash_vertices), read_only(self.lash_rows), centre, axes, read_only(turned))

    def gaze(self, turn: Floats) -> tuple[float, float]:
        """Degrees upwards and towards the outer corner for the rotation (3, 3) of the eye."""
        x, y, z = turn[:, 2].tolist()
        return math.degrees(math.asin(min(max(y, -1.0), 1.0))), self.outward * math.degrees(math.atan2(x, z))

    def followed(self, turn: Floats) -> tuple[tuple[float, float], tuple[float, float]]:
        """Closing and slide (radians) of the upper and of the lower lid for the rotation (3, 3) of the eye."""
        gaze = self.gaze(turn)
        upper, lower = self.follow
        return upper.at(*gaze), lower.at(*gaze)


def openness_limited(openness: float) -> float:
    """How far a lid is open, 0 closed, 1 at rest, with a soft end beyond: 1 + w (1 - exp(-(o - 1) / w))."""
    return 1 - WIDEST * math.expm1(-(openness - 1) / WIDEST) if openness > 1 else openness


def compile_lids(lids: Lids, eye: CompiledEye, store: ArrayStore, meshes: Meshes) -> CompiledLids:
    skin = meshes.rows(lids.skin)
    turning = LidTurning.of(meshes.rest[skin].astype(float), lids, store, eye.centre, skin.start)
    row_of = rows_among(np.asarray(store.get(lids.vertices)), skin.stop - skin.start)
    lashes = [(meshes.rows(name), row_of[np.asarray(store.get(roots))]) for name, roots in lids.lashes]
    return CompiledLids(
        eye,
        turning,
        1.0 if turning.arc.axes[0, 0] >= 0 else -1.0,
        (compile_follow(lids.follow_upper), compile_follow(lids.follow_lower)),
        np.concatenate([np.arange(r.start, r.stop) for r, _ in lashes] or [np.zeros(0)]).astype(np.int32),
        np.concatenate([rows for _, rows in lashes] or [np.zeros(0)]).astype(np.int32),
    )


def compile_follow(follow: GazeFollow) -> Follow:
    at = np.arange(-90 * PER_DEGREE, 90 * PER_DEGREE + 1) / PER_DEGREE
    height, across, slide = (compile_curve(keys)(at) - compile_curve(keys)(0.0) for keys in (follow.height, follow.across, follow.slide))
    return Follow(height, across, np.radians(slide))


def closed_line(arc: LidArc, upper: Floats, lower: Floats, keys: CurveKeys) -> Floats:
    """Angles (2, 513) to which the upper and the lower margin close, (U, 3) and (V, 3) points in the neutral, at even places along the
    axis between the corners."""
    at = np.linspace(0, 1, LINE_STEPS)
    (up_at, up), (low_at, low) = arc.place(upper), arc.place(lower)
    top = np.interp(at, np.maximum.accumulate(up_at), up)
    bottom = np.interp(at, np.maximum.accumulate(low_at), low)
    line = bottom + compile_curve(keys)(at) * (top - bottom)
    passing = PASS_BY * (4 * at * (1 - at)) ** 0.25
    return np.stack([line - passing, line + passing])
