"""Eye relief laid out for evaluation: lids swell over the eyeball that turns under them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from tightseam.deform import backend
from tightseam.deform.eyes import CompiledEye
from tightseam.deform.meshes import Meshes, followers_of, rows_among
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
    follower_rows: Ints  # rising

    @cached_property
    def _laid_out(self) -> tuple[Any, ...]:
        """What the loop that relieves takes in, but for what changes with every frame."""
        of = (self.amount, self.clearance, self.settle, self.swell, self.lid, self.eye.profile)
        return tuple(read_only(x) for x in (self.vertices, *of, self.follower_vertices, self.follower_rows))

    def push(self, points: Floats, turn: Floats, centre: Floats, closing: Floats) -> None:
        """Push `points` (N, 3) in place out of the eye turned by `turn` (3, 3) with its centre at `centre` (3,), to the clearance that
        goes with the closing of all lids, (2 E,)."""
        backend.current().relieve(points, *self._laid_out, *map(read_only, (closing, turn, centre)))

    def push_at(self, points: Floats, turn: Floats, centre: Floats, closing: float) -> None:
        """As `push`, with all lids closed alike."""
        self.push(points, turn, centre, np.full(self.lid.max(initial=0) + 1, closing))

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
        _lids_of(relief, character, store, len(row_of))[own].astype(np.int32),
        *followers_of(followers),
    )


def _lids_of(relief: EyeRelief, character: Character, store: ArrayStore, count: int) -> Ints:
    """For each vertex of the skin (count,) the number of the lid about the relief's eye that it belongs to; -1 for none."""
    found = np.full(count, -1)
    for k, lids in enumerate(character.lids):
        if (lids.eye, lids.skin) == (relief.eye, relief.skin):
            found[np.asarray(store.get(lids.vertices))] = 2 * k + 1 - np.asarray(store.get(lids.upper)).astype(int)
    return found
