"""A character's lids and lips sampled by themselves: where bones of a format would have to find their points."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.bake.before_bones import BeforeBones
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.ride import CompiledRide, ridden
from tightseam.deform.skinned_alike import all_linear
from tightseam.deform.skinning import Skinning, compile_skinning
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class Turned:
    """Bones (B, 3): degrees about and cm along their own axes, everything else at rest."""

    angles: Floats
    shifts: Floats


class FitSampler:
    """Samples `character` for the bones of `baked`, which holds neither lids nor lips and rides on nothing. Points are of all parts."""

    def __init__(self, character: Character, baked: Character, store: ArrayStore) -> None:
        self.evaluator = Evaluator(character, store)
        self.rig = self.evaluator.rig
        self.rest: Floats = self.evaluator.meshes.rest
        self.linear: Skinning = compile_skinning(all_linear(baked), store)
        self._points = self.rest.copy()

    def still(self) -> Turned:
        count = len(self.rig.skeleton.parents)
        return Turned(np.zeros((count, 3)), np.zeros((count, 3)))

    def with_riders(self, rows: Ints) -> Ints:
        """The vertices (K,) and all that ride on them."""
        return np.concatenate([rows, *(r.first + np.arange(r.count) for r in self.riding(rows))]).astype(np.int64)

    def roots(self, rows: Ints) -> Ints:
        """For all that `with_riders` gives, which of the vertices (K,) it goes with, (K',): a rider with one it rides on."""
        at = {v: k for k, v in enumerate(rows.tolist())}
        found = [np.arange(len(rows))]
        for ride in self.riding(rows):
            near = [next((at[v] for v in corners if v in at), 0) for corners in ride.corners.tolist()]
            found.append(np.array(near, int))
        return np.concatenate(found)

    def lids(self, number: int, rows: Ints, turned: Sequence[Turned], asked: Floats) -> Iterator[Floats]:
        """Offsets (A, K', 3) for bones that are turned, one after another: of vertices and riders, with both lids of an eye, by `number`,
        closed as far as `asked` (A,)."""
        lids, other, eye = self.rig.closing[number]
        relief = next((r for r, of in self.rig.relieving if of == eye), None)
        every = np.zeros((2 * len(self.rig.lids), 1))
        own = slice(2 * number, 2 * number + 2)
        group = _Group.of(self, rows)
        for pose in turned:
            posed = _Posed(self, group, pose)
            eyes = self.rig.posed_eyes(posed.matrices)
            found = []
            for amount in asked.tolist():
                every[own] = amount
                closing, slide = self.rig.lid_motion(every, eyes)
                points = self._points
                points[rows] = self.rest[rows]
                if other is None:
                    lids.close(points, closing[own], slide[own])
                else:
                    other.apply(points, closing[own], lids.gaze(eyes.turns[eye]))
                if relief is not None:
                    relief.push(points, eyes.turns[eye], eyes.centres[eye], closing)
                found.append(posed.offsets(posed.carried(points[rows]), points))
                points[rows] = self.rest[rows]
            yield np.array(found)

    def lips(self, rows: Ints, turned: Sequence[Turned], asked: Floats) -> Iterator[Floats]:
        """Offsets (A, K', 3) for bones that are turned, one after another: of the lips' vertices and riders, with seals and pulls of the
        corners as far as `asked` (A, 4), left and right of each."""
        lips = self.rig.lips
        assert lips is not None
        group = _Group.of(self, rows)
        for pose in turned:
            posed = _Posed(self, group, pose)
            found = []
            for left, right, pull_left, pull_right in asked.tolist():
                mouth = lips.at(posed.matrices, np.array([left, right]), np.array([pull_left, pull_right]))
                out = posed.skinned.copy()
                if mouth is not None:
                    lips.seal(out, self.rest, mouth)
                found.append(posed.offsets(out[rows], self.rest))
            yield np.array(found)

    def riding(self, rows: Ints) -> list[CompiledRide]:
        touched = np.zeros(len(self.rest), bool)
        touched[rows] = True
        return [r for r in self.rig.rides if touched[r.patch].any() or touched[r.corners].any()]


@dataclass(frozen=True)
class _Group:
    """Vertices `rows` (K,), what rides on them, `rides`, and where both stand in the `neutral` (K', 3), `every` (K',)."""

    rows: Ints
    rides: list[CompiledRide]
    every: Ints
    neutral: Floats

    @classmethod
    def of(cls, sampler: FitSampler, rows: Ints) -> _Group:
        every = sampler.with_riders(rows)
        return cls(rows, sampler.riding(rows), every, sampler.rest[every].astype(float))


class _Posed:
    """One pose of the bones: what carries the vertices of a group there, and the way back for these and for what rides on them."""

    def __init__(self, sampler: FitSampler, group: _Group, turned: Turned) -> None:
        rig, self._group = sampler.rig, group
        self.matrices: Floats = rig.skeleton.posed(turned.angles, turned.shifts)
        self._carried = rig.skinning.carried_by(group.rows, self.matrices)
        self.skinned = np.empty_like(sampler.rest)
        rig.skinning.apply(self.skinned, sampler.rest, self.matrices)
        self._back = BeforeBones(sampler.linear, group.every, self.matrices)

    def carried(self, points: Floats) -> Floats:
        """Points (K, 3) of the vertices as the bones bring them."""
        return np.asarray(np.einsum("kij,kj->ki", self._carried[:, :3, :3], points) + self._carried[:, :3, 3])

    def offsets(self, posed: Floats, before: Floats) -> Floats:
        """How far from the neutral the bones have to find the vertices that are `posed` (K, 3), and what rides on them; all points stood
        `before` (N, 3) the bones."""
        found, group = [posed], self._group
        if group.rides:
            skinned = self.skinned.copy()
            skinned[group.rows] = posed
            found += [ridden(ride, before, skinned) for ride in group.rides]
        every = np.concatenate(found).astype(float)
        return (self._back.of(every, group.neutral) - group.neutral).astype(np.float32)
