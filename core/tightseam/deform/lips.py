"""Lips laid out for evaluation: sealed from the corners inwards, with corners that follow the jaw."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.deform import backend
from tightseam.deform.compiled import Meshes
from tightseam.deform.curves import compile_curve
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, Lips
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.types import Floats, Ints

STILL = 1e-7  # of a matrix that stays where it is
MIDDLE = 0.12  # of the way from the middle of the mouth to a corner over which the seals of both sides are mixed


@dataclass(frozen=True)
class LipMotion:
    """What the jaw makes of the lips in a pose: rows (16,), float32, of the rigid matrix that carries them sealed, `together`, and of what
    takes a corner on towards the jaw, `apart`; how far (0..1) they hold together by themselves; whether the jaw moves at all."""

    together: Floats
    apart: Floats
    stuck: float
    still: bool


@dataclass(frozen=True)
class CompiledLips:
    """Global `vertices` (K,) with the `share` (K,) they take of the sealing, the value of the control `when` (K,) it begins at their
    place, how much of the `left` (K,) side's seal they take, and how much (K,) of each corner's pull, `corners` (K, 2), left and right.
    `middle` (3,) is that of their lines; `upper` and `lower` are the numbers of the bones that carry them."""

    vertices: Ints
    share: Floats
    when: Floats
    left: Floats
    corners: Floats
    middle: Floats
    lips: Lips
    upper: int
    lower: int

    def motion(self, matrices: Floats) -> LipMotion:
        """From bone matrices (B, 4, 4)."""
        head, jaw, of = matrices[self.upper], matrices[self.lower], self.lips
        together, apart = np.empty((2, 16), np.float32)
        parted = backend.current().lip_motion(head, jaw, of.balance, self.middle, of.ahead, together, apart)
        t = min(max(parted / of.stick, 0.0), 1.0) if of.stick else 1.0
        return LipMotion(together, apart, 1 - t * t * (3 - 2 * t), float(np.abs(apart).max()) < STILL)


def compile_lips(lips: Lips, character: Character, store: ArrayStore, meshes: Meshes) -> CompiledLips | None:
    """None where one of the bones that the lips are carried by is missing: then they do not seal."""
    row = {b.name: k for k, b in enumerate(character.bones)}
    if lips.upper_bone not in row or lips.lower_bone not in row:
        return None
    place = np.asarray(store.get(lips.place)).astype(float)
    corner = np.asarray(store.get(lips.corner))
    rest = meshes.rest[meshes.rows(lips.skin)].astype(float)
    left = smoothstep((place + MIDDLE) / (2 * MIDDLE))
    return CompiledLips(
        (np.asarray(store.get(lips.vertices)).astype(np.int64) + meshes.rows(lips.skin).start).astype(np.int32),
        np.asarray(store.get(lips.share)).astype(np.float32),
        np.clip(compile_curve(lips.zip)(1 - np.minimum(np.abs(place), 1)), 0, 1).astype(np.float32),
        left.astype(np.float32),
        np.stack([corner * (place > 0), corner * (place <= 0)], axis=1).astype(np.float32),
        rest[np.concatenate([np.asarray(store.get(line)) for line in (lips.upper, lips.lower)])].mean(axis=0),
        lips,
        row[lips.upper_bone],
        row[lips.lower_bone],
    )
