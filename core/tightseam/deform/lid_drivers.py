"""What can close lids in place of the arc: shapes with in-betweens, or a bone for each lid; both as receivers of a rig know them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.deform import backend
from tightseam.deform.eye_relief import CompiledEyeRelief
from tightseam.deform.lid_motion import read_table
from tightseam.deform.lids import CompiledLids
from tightseam.document.model import LidDriver
from tightseam.geometry.knots import best_knots, chord_errors, fitted
from tightseam.geometry.read_only import read_only
from tightseam.geometry.rotation import rotation
from tightseam.geometry.types import Floats, Ints

PATH = np.linspace(0, 1, 33)  # closings that in-betweens are chosen from
SIDES = ((25.0, 0.0), (-30.0, 0.0), (0.0, 35.0), (0.0, -35.0))  # degrees up, and towards the outer corner: gazes with targets of their own


@dataclass(frozen=True)
class LidShapes:
    """Lids of one eye as shapes: `offsets` (S, K, 3) in cm of the vertices `rows` (K,) at `closings` (S,) from 0 to 1, the eye looking
    straight ahead; those of each vertex go by the closing of its `lid` (K,), 0 upper, 1 lower. `gazes` (4, S, K, 3), where there are any,
    come on top as the eye turns towards SIDES."""

    rows: Ints
    lid: Ints
    closings: Floats
    offsets: Floats
    gazes: Floats | None

    def apply(self, points: Floats, closing: Floats, gaze: tuple[float, float]) -> None:
        """Move `points` (N, 3) in place, for the closing of both lids (2,) and the gaze in degrees up and outwards."""
        self._add(points, self._laid_out[0], closing, gaze)

    def offsets_at(self, closing: Floats, gaze: tuple[float, float]) -> Floats:
        """Offsets (K, 3), float32: straight between two closings, below 0 the first way backwards."""
        found = np.zeros((len(self.rows), 3), np.float32)
        self._add(found, np.arange(len(self.rows), dtype=np.int32), closing, gaze)
        return found

    def _add(self, points: Floats, rows: Ints, closing: Floats, gaze: tuple[float, float]) -> None:
        _, *laid_out, gazes = self._laid_out
        towards = np.array(_towards(gaze) if len(gazes) else [], float)
        backend.current().add_between(points, read_only(rows), *laid_out, gazes, *map(read_only, (closing, towards)))

    @cached_property
    def _laid_out(self) -> tuple[Ints, Ints, Floats, Floats, Floats]:
        """What the loop that adds them takes in, but for what changes with every frame."""
        gazes = np.zeros((0, *self.offsets.shape)) if self.gazes is None else self.gazes
        offsets, turned = read_only(self.offsets, np.float32), read_only(gazes, np.float32)
        return read_only(self.rows, np.int32), read_only(self.lid, np.uint8), read_only(self.closings), offsets, turned


@dataclass(frozen=True)
class LidBones:
    """Lids of one eye by a bone each, turning about the axis through the eye: linear blend skinning (Magnenat-Thalmann et al. 1988) with
    `weights` (K,) of the vertices `rows`; `angles` (2,) in radians is how far the bones of the upper and of the lower lid turn to close."""

    rows: Ints
    lid: Ints
    weights: Floats
    angles: Floats
    centre: Floats
    axis: Floats

    def apply(self, points: Floats, closing: Floats, gaze: tuple[float, float]) -> None:
        """Move `points` (N, 3) in place, for the closing of both lids (2,); no gaze moves them."""
        turns = np.stack([_about(self.axis, angle) for angle in (closing * self.angles).tolist()])
        backend.current().turn_about(points, *self._laid_out, read_only(turns))

    @cached_property
    def _laid_out(self) -> tuple[Ints, Ints, Floats, Floats]:
        """What the loop that turns them takes in, but for what changes with every frame."""
        kinds = (np.int32, np.uint8, np.float32, np.float64)
        rows, lid, weights, centre = map(read_only, (self.rows, self.lid, self.weights, self.centre), kinds)
        return rows, lid, weights, centre


StandIn = LidShapes | LidBones


def stand_in(driver: LidDriver, lids: CompiledLids, relief: CompiledEyeRelief | None, rest: Floats) -> StandIn | None:
    """What closes lids by `driver`, worked out on the neutral `rest` (N, 3) of all parts; None for the arc itself."""
    if driver.kind == "shapes":
        return LidSampler(lids, relief, rest).shapes(driver.between, driver.gaze)
    return lid_bones(lids, rest) if driver.kind == "bones" else None


class LidSampler:
    """The lids of one eye with their eye relief, sampled on the neutral `rest` (N, 3) of all parts, to make shapes of."""

    def __init__(self, lids: CompiledLids, relief: CompiledEyeRelief | None, rest: Floats) -> None:
        self._lids, self._relief, self._rest = lids, relief, rest
        self.rows, self.lid = _moving(lids, relief)

    def shapes(self, between: int, gaze: bool) -> LidShapes:
        """Shapes where `between` in-betweens follow the arc best; with `gaze` for the turned eye too."""
        knots = best_knots(self._cost, between)
        gazes = np.stack([fitted(path, knots) for path in self._towards]) if gaze else None
        return LidShapes(self.rows, self.lid, PATH[knots], fitted(self._path, knots), gazes)

    def offsets(self, closing: float, gaze: tuple[float, float] = (0.0, 0.0)) -> Floats:
        """Offsets (K, 3) at a closing, the eye looking up and outwards by degrees."""
        return posed_lids(self._lids, self._relief, self._rest, closing, gaze)[self.rows] - self._rest[self.rows]

    @cached_property
    def _path(self) -> Floats:
        path = np.stack([self.offsets(float(k)) for k in PATH])
        return path - path[0]  # open and straight ahead it is the neutral, to the bit

    @cached_property
    def _cost(self) -> Floats:
        return chord_errors(self._path)

    @cached_property
    def _towards(self) -> list[Floats]:
        """What the eye turned to each of SIDES adds to the path."""
        return [np.stack([self.offsets(float(k), side) for k in PATH]) - self._path for side in SIDES]


def posed_lids(
    lids: CompiledLids, relief: CompiledEyeRelief | None, rest: Floats, closing: float, gaze: tuple[float, float] = (0.0, 0.0)
) -> Floats:
    """Points (N, 3) with both lids of an eye closed on the arc by `closing` over the eye that looks up and outwards by degrees. What the
    gaze itself closes is left out, how far it takes the lids to the side is not."""
    points = rest.astype(np.float32)
    lids.close(points, np.full(2, closing), np.array([read_table(follow[2], gaze[1]) for follow in lids.follow]))
    if relief is not None:
        turn = rotation(np.array([-gaze[0], lids.outward * gaze[1], 0.0]))
        relief.push_at(points, turn, lids.eye.centre, closing)
    return points.astype(float)


def lid_bones(lids: CompiledLids, rest: Floats) -> LidBones:
    """A bone for each lid that turns its margin to the closed line where that is farthest, and what it carries of each vertex so that all
    of them turn as on the arc."""
    turning = lids.turning
    turned = turning.angles(rest.astype(float), np.ones(2), np.zeros(2))[:, 1]
    own = np.concatenate([turned, turned[lids.lash_rows]])
    rows = np.concatenate([turning.vertices, lids.lash_vertices])
    lid = np.concatenate([turning.lid, turning.lid[lids.lash_rows]]).astype(int)
    angles = np.array([_farthest(own[lid == k]) for k in (0, 1)])
    weights = np.clip(own / np.where(angles[lid] == 0, 1.0, angles[lid]), 0, 1)
    # about the axis a growing angle lifts; a right-handed turn about the way outwards lifts where that points to the character's left
    hand = 1.0 if np.linalg.det(turning.arc.axes) > 0 else -1.0
    return LidBones(rows, lid, weights, angles, turning.arc.centre, -hand * turning.arc.axes[0])


def _moving(lids: CompiledLids, relief: CompiledEyeRelief | None) -> tuple[Ints, Ints]:
    """Vertices that lids and relief of an eye move, and the lid each belongs to; what only the relief moves goes with the upper one."""
    turning = lids.turning
    of_lid = dict(zip(turning.vertices.tolist(), turning.lid.tolist(), strict=True))
    of_lid |= dict(zip(lids.lash_vertices.tolist(), turning.lid[lids.lash_rows].tolist(), strict=True))
    for vertex in () if relief is None else np.concatenate([relief.vertices, relief.follower_vertices]).tolist():
        of_lid.setdefault(vertex, 0)
    rows = np.array(sorted(of_lid), np.int32)
    return rows, np.array([of_lid[v] for v in rows.tolist()], int)


def _towards(gaze: tuple[float, float]) -> list[float]:
    """How far (0..1) a gaze goes towards each of SIDES."""
    reached = (gaze[0] / SIDES[0][0], gaze[0] / SIDES[1][0], gaze[1] / SIDES[2][1], gaze[1] / SIDES[3][1])
    return [min(max(share, 0.0), 1.0) for share in reached]


def _farthest(angles: Floats) -> float:
    return float(angles[np.abs(angles).argmax()]) if len(angles) else 0.0


def _about(axis: Floats, angle: float) -> Floats:
    """Rotation (3, 3) by `angle` radians about a unit `axis` (3,), by Rodrigues' formula."""
    x, y, z = axis.tolist()
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.eye(3) + math.sin(angle) * cross + (1 - math.cos(angle)) * cross @ cross
