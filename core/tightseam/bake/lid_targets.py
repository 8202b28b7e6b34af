"""Lids that are driven by shapes, as targets for formats that know in-betweens."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.lid_drivers import LidShapes
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import without_lid_links
from tightseam.document.model import Character
from tightseam.geometry.types import Floats, Ints

STILL = 1e-6  # cm


@dataclass(frozen=True)
class LidTarget:
    """One lid on one part: `offsets` (S, K, 3) in cm of `vertices` (K,) at `closings` (S,), the last of which is 1."""

    name: str
    part: str
    vertices: Ints
    closings: Floats
    offsets: Floats

    def at(self, closing: float) -> Floats:
        """Offsets (K, 3) where the lid is closed by 0 to 1: straight between two closings, from nothing."""
        knots = np.append(0, self.closings)
        shares = [np.interp(closing, knots, own) for own in np.eye(len(knots))[1:]]
        return np.tensordot(shares, self.offsets, 1)


def lid_targets(character: Character, store: ArrayStore) -> list[LidTarget]:
    """A target for each lid that shapes drive and each part it moves."""
    if not any(pair.driver.kind == "shapes" for pair in character.lids):
        return []
    evaluator = Evaluator(character, store)
    found = []
    for pair, shapes in zip(character.lids, evaluator.rig.stand_ins, strict=True):
        if isinstance(shapes, LidShapes):
            for lid, name in enumerate(pair.names):
                found += [_on_part(evaluator, shapes, lid, name, part) for part in evaluator.meshes.names]
    return [target for target in found if len(target.vertices)]


def without_lids_by_shapes(character: Character) -> Character:
    """The character without the lids that shapes drive, their eye relief and what controls do to them."""
    left = tuple(pair for pair in character.lids if pair.driver.kind != "shapes")
    gone = {pair.eye for pair in character.lids} - {pair.eye for pair in left}
    return replace(
        character,
        lids=left,
        eye_reliefs=tuple(r for r in character.eye_reliefs if r.eye not in gone),
        controls=without_lid_links(character.controls, {name for pair in left for name in pair.names}),
    )


def _on_part(evaluator: Evaluator, shapes: LidShapes, lid: int, name: str, part: str) -> LidTarget:
    rows = evaluator.meshes.rows(part)
    moves = np.abs(shapes.offsets).max(axis=(0, 2)) > STILL
    own = np.flatnonzero((shapes.lid == lid) & (shapes.rows >= rows.start) & (shapes.rows < rows.stop) & moves)
    return LidTarget(name, part, shapes.rows[own] - rows.start, shapes.closings[1:], shapes.offsets[1:, own])
