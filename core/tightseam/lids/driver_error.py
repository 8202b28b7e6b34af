"""How far lids driven by shapes or bones are from the arc, so that a rigger can choose."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import product

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.lid_drivers import SIDES, LidSampler, lid_bones
from tightseam.document.arrays import ArrayStore
from tightseam.document.kept import remembered
from tightseam.document.model import Character, Side
from tightseam.document.progress import one_by_one
from tightseam.document.sections import MEASURED
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Floats
from tightseam.lids.tune import lids_of

Gaze = tuple[float, float]
MOST_BETWEEN = 5
CLOSINGS = np.linspace(0, 1, 21)
STRAIGHT: Gaze = (0.0, 0.0)
GAZES: tuple[Gaze, ...] = (STRAIGHT, *SIDES, *((h, a) for h, a in product((15.0, -15.0), (20.0, -20.0))))  # degrees up, and outwards


@dataclass(frozen=True)
class DriverError:
    """The farthest, in mm, that any vertex of an eye's lids and lashes is from where the arc would have it: over all closings with the eye
    straight ahead, over all gazes too, and over these with targets for the turned eye (None for bones, which have none)."""

    kind: str
    between: int
    straight: float
    gazes: float
    with_targets: float | None


@remembered(list[DriverError], *MEASURED)
def driver_errors(character: Character, store: ArrayStore, side: Side) -> list[DriverError]:
    """Of the lids of one side: for each number of in-betweens, and last for bones. BadRequest where there are none."""
    evaluator, pair = Evaluator(character, store), lids_of(character, side)
    k = character.lids.index(pair)
    lids, rest = evaluator.rig.lids[k], evaluator.meshes.rest
    sampler = LidSampler(lids, next((r for r in evaluator.rig.eye_reliefs if r.eye.part == pair.eye), None), rest)
    moments = list(product(CLOSINGS.tolist(), GAZES))
    wanted = {moment: sampler.offsets(*moment) for moment in moments}

    def error(driver: Callable[[Floats, Gaze], Floats], gazes: tuple[Gaze, ...]) -> float:
        off = [driver(np.full(2, closing), gaze) - wanted[closing, gaze] for closing, gaze in moments if gaze in gazes]
        return CM_TO_MM * float(np.sqrt((np.stack(off) ** 2).sum(axis=2).max()))

    bones = lid_bones(lids, rest)

    def by_bones(closing: Floats, gaze: Gaze) -> Floats:
        points = rest.copy()
        bones.apply(points, closing, gaze)
        return points[sampler.rows] - rest[sampler.rows]

    found = []
    for between in one_by_one(range(MOST_BETWEEN + 1), "Lids by shapes,"):
        plain, aimed = (sampler.shapes(between, gaze).offsets_at for gaze in (False, True))
        found.append(DriverError("shapes", between, error(plain, (STRAIGHT,)), error(plain, GAZES), error(aimed, GAZES)))
    return [*found, DriverError("bones", 0, error(by_bones, (STRAIGHT,)), error(by_bones, GAZES), None)]
