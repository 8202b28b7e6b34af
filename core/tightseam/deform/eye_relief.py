"""Eye relief laid out for evaluation: lids swell over the eyeball that turns under them."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from tightseam.deform import backend
from tightseam.deform.eyes import CompiledEye
from tightseam.deform.meshes import Meshes, rows_among
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, EyeRelief
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints


@dataclass(frozen=True)
class CompiledEyeRelief:
    """One eye relief with global vertex numbers. `lid` (K,) is the number of the lid with which each vertex swells, counted over the
    lids of all eyes, the upper one of each first; -1 for none."""

    eye: CompiledEye
    vertices: Ints
    amount: Floats
    clearance: Floats
    settle: Floats
    swell: Floats
    lid: Ints
    follower_vertices: Ints
    follower_rows: Ints

    def clearance_at(self, closing: Floats) -> Floats:
        """Clearance (K,) in cm for the closing of all lids, (2 E,): all of the swell when closed, most of it half-way."""
        if not len(closing) or not closing.any():
            return self.clearance
        k = np.append(np.minimum(np.maximum(closing, 0), 1), 0.0)
        found = (k * (2 - k)).astype(np.float32)[self.lid]
        found *= self.swell
        found += self.clearance
        return found

    def clearance_of_own(self, closing: float) -> Floats:
        """As `clearance_at`, with all lids closed alike."""
        return self.clearance_at(np.full(self.lid.max(initial=0) + 1, closing))

    def push(self, points: Floats, turn: Floats, centre: Floats, clearance: Floats) -> None:
        """Push `points` (N, 3) in place out of the eye turned by `turn` (3, 3) with its centre at `centre` (3,), to a clearance (K,)."""
        loops, pushed = backend.current(), np.empty((len(self.vertices), 3), np.float32)
        seen = (self.vertices, self.amount, clearance, self.settle, centre, turn, self.eye.profile)
        kinds = (np.int32, *[np.float32] * 6)
        loops.relieve(points, *map(read_only, seen, kinds), pushed)
        loops.follow(points, *map(read_only, (self.follower_vertices, self.follower_rows, pushed)))

    def with_amount(self, amount: Floats) -> CompiledEyeRelief:
        """The same with another amount (K,) 0..1."""
        return replace(self, amount=amount.astype(np.float32))


def compile_eye_relief(relief: EyeRelief, eye: CompiledEye, character: Character, store: ArrayStore, meshes: Meshes) -> CompiledEyeRelief:
    own = np.asarray(store.get(relief.vertices)).astype(np.int64)
    skin = meshes.rows(relief.skin)
    row_of = rows_among(own, skin.stop - skin.start)
    followers = [(meshes.rows(name), row_of[np.asarray(store.get(roots))]) for name, roots in relief.followers]
    return CompiledEyeRelief(
        eye,
        (own + skin.start).astype(np.int32),
        np.asarray(store.get(relief.amount)).astype(np.float32),
        np.asarray(store.get(relief.clearance)).astype(np.float32),
        np.asarray(store.get(relief.settle)).astype(np.float32),
        np.zeros(len(own), np.float32) if relief.swell is None else np.asarray(store.get(relief.swell)).astype(np.float32),
        _lids_of(relief, character, store, len(row_of))[own],
        np.concatenate([np.arange(r.start, r.stop) for r, _ in followers] or [np.zeros(0)]).astype(np.int32),
        np.concatenate([rows for _, rows in followers] or [np.zeros(0)]).astype(np.int32),
    )


def _lids_of(relief: EyeRelief, character: Character, store: ArrayStore, count: int) -> Ints:
    """For each vertex of the skin (count,) the number of the lid about the relief's eye that it belongs to; -1 for none."""
    found = np.full(count, -1)
    for k, lids in enumerate(character.lids):
        if (lids.eye, lids.skin) == (relief.eye, relief.skin):
            found[np.asarray(store.get(lids.vertices))] = 2 * k + 1 - np.asarray(store.get(lids.upper)).astype(int)
    return found
