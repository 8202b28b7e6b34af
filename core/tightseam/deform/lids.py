"""Lids laid out for evaluation: the arc on which they close and the line they meet on."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from tightseam.deform import backend, plain
from tightseam.deform.curves import compile_curve
from tightseam.deform.eyes import CompiledEye
from tightseam.deform.lid_motion import follow_table, gaze_of
from tightseam.deform.meshes import Meshes, followers_of, rows_among
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import CurveKeys, Lids
from tightseam.geometry.normals import unit
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints

LINE_STEPS = 513
PASS_BY = 0.012  # rad by which closed margins pass each other, so that a subdivided surface, which rounds them off, shows no slit
NO_LASHES = read_only(np.zeros(0, np.int32))


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
class LidTurning:
    """What turns about an eye: `vertices` (K,), for each the `lid` it goes with, 0 upper, 1 lower, its `share`, and `near` which row of
    the margin it stands in the neutral; the rows of the margins among them, those of the lower one from `margin_start`; and the angles
    (2, 513) to which both lids close."""

    arc: LidArc
    vertices: Ints
    lid: Ints
    share: Floats
    near: Ints
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
        lid = 1 - of_upper.astype(int)
        return cls(
            arc,
            read_only((vertices.astype(np.int64) + first).astype(np.int32)),
            read_only(lid.astype(np.uint8)),
            read_only(share.astype(np.float32)),
            read_only(_nearest_rows(arc, skin[vertices], lid, (skin[upper], skin[lower]))),
            read_only(rows_among(vertices, len(skin))[np.concatenate([upper, lower])]),
            len(upper),
            read_only(closed_line(arc, skin[upper], skin[lower], lids.line).astype(np.float32)),
        )

    @property
    def margins(self) -> tuple[Ints, Ints]:
        """Vertices of the upper and the lower margin, from the inner to the outer corner."""
        found = self.vertices[self.margin_rows]
        return found[: self.margin_start], found[self.margin_start :]

    @cached_property
    def _laid_out(self) -> tuple[Any, ...]:
        """What the loop that closes lids takes in, but for what changes with every frame."""
        own = (self.vertices, self.lid, self.share, self.near, self.margin_rows, self.margin_start, self.closed)
        return (*own, *self.arc.single)

    def turn(self, loops: Any, points: Floats, closing: Floats, slide: Floats, lashes: tuple[Ints, Ints] = (NO_LASHES, NO_LASHES)) -> None:
        """Turn `points` (N, 3) in place by a closing and a slide (radians) of each lid, (2,). `lashes` are vertices that turn with those
        in some rows, (L,) each, the rows rising."""
        loops.close_lids(points, *self._laid_out, *lashes, read_only(closing), read_only(slide))

    def angles(self, points: Floats, closing: Floats, slide: Floats) -> Floats:
        """By what angles (K, 2), radians, each vertex slides and turns in `turn`."""
        of: tuple[Any, ...] = (points, *self._laid_out, closing, slide)
        return plain.lid_angles(*of)


@dataclass(frozen=True)
class CompiledLids:
    """The lids of one eye with global vertex numbers. `outward` is 1 where the outer corner lies to the character's left, else -1;
    `follow` (2, 3, 721) how the upper and the lower lid follow the eye, as `follow_table` has it."""

    eye: CompiledEye
    turning: LidTurning
    outward: float
    follow: Floats
    lash_vertices: Ints
    lash_rows: Ints  # rising

    def close(self, points: Floats, closing: Floats, slide: Floats) -> None:
        """Turn skin and lashes among `points` (N, 3) in place by a closing and a slide (radians) of each lid, (2,)."""
        self.turn(backend.current(), points, closing, slide)

    def with_share(self, share: Floats) -> CompiledLids:
        """The same with another share (K,) 0..1 of the closing for each vertex."""
        return replace(self, turning=replace(self.turning, share=read_only(share.astype(np.float32))))

    def turn(self, loops: Any, points: Floats, closing: Floats, slide: Floats) -> None:
        """As `close`, by the loops that are handed over."""
        self.turning.turn(loops, points, closing, slide, (self.lash_vertices, self.lash_rows))

    def gaze(self, turn: Floats) -> tuple[float, float]:
        """Degrees upwards and towards the outer corner for the rotation (3, 3) of the eye."""
        return gaze_of(turn, self.outward)


def compile_lids(lids: Lids, eye: CompiledEye, store: ArrayStore, meshes: Meshes) -> CompiledLids:
    skin = meshes.rows(lids.skin)
    turning = LidTurning.of(meshes.rest[skin].astype(float), lids, store, eye.centre, skin.start)
    row_of = rows_among(np.asarray(store.get(lids.vertices)), skin.stop - skin.start)
    lashes = [(meshes.rows(name), row_of[np.asarray(store.get(roots))]) for name, roots in lids.lashes]
    return CompiledLids(
        eye,
        turning,
        1.0 if turning.arc.axes[0, 0] >= 0 else -1.0,
        np.stack([follow_table(lids.follow_upper), follow_table(lids.follow_lower)]),
        *followers_of(lashes),
    )


def _nearest_rows(arc: LidArc, points: Floats, lid: Ints, margins: tuple[Floats, Floats]) -> Ints:
    """The stretch of both `margins`, one after the other, that each of `points` (K, 3) stands over in the neutral, (K,): its first row."""
    found, first = np.empty(len(points), np.int32), 0
    for k, margin in enumerate(margins):
        ways, own = np.maximum.accumulate(arc.place(margin)[0]), lid == k
        segment = np.searchsorted(ways, arc.place(points[own])[0], side="right") - 1
        found[own] = first + np.clip(segment, 0, max(len(margin) - 2, 0))
        first += len(margin)
    return found


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
