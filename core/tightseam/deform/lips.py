"""Lips laid out for evaluation: sealed from the corners inwards, with corners that follow the jaw."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tightseam.deform import backend
from tightseam.deform.curves import compile_curve
from tightseam.deform.meshes import Meshes
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character, Lips
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.read_only import read_only
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
class Mouth:
    """How the jaw moves the lips, and how far they are sealed and their corners pulled, (2,) each, left and right."""

    motion: LipMotion
    seals: Floats
    pulls: Floats


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
        head, jaw, middle = map(read_only, (head, jaw, self.middle))
        parted = backend.current().lip_motion(head, jaw, of.balance, middle, of.ahead, together, apart)
        t = min(max(parted / of.stick, 0.0), 1.0) if of.stick else 1.0
        return LipMotion(together, apart, 1 - t * t * (3 - 2 * t), float(np.abs(apart).max()) < STILL)

    def seal(self, out: Floats, points: Floats, mouth: Mouth) -> None:
        """Seal the lips on posed points `out` (N, 3), in place, by where they were before the bones, `points` (N, 3)."""
        of = map(read_only, (points, self.vertices, self.share, self.when, self.left, self.corners))
        asked = (read_only(x, np.float32) for x in (mouth.seals, mouth.pulls, mouth.motion.together, mouth.motion.apart))
        backend.current().seal_lips(out, *of, np.float32(self.lips.soft), *asked)

    def at(self, matrices: Floats, seals: Floats, pulls: Floats) -> Mouth | None:
        """The mouth in a pose, from bone matrices (B, 4, 4) and what controls ask of seals and corners (2,); None where it stays."""
        motion = self.motion(matrices)
        seals = np.maximum(seals, motion.stuck)
        return None if motion.still or not (seals.any() or pulls.any()) else Mouth(motion, seals, pulls)


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
