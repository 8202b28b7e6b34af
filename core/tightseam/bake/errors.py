"""How far off what a format holds is from the character, over its test poses and over random ones."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np

from tightseam.bake.fitted import Fitted
from tightseam.bake.lids import CLOSING
from tightseam.bake.mouth import MOUTH
from tightseam.document.model import Character, LinkKind
from tightseam.document.poses import away_from_rest, pose_values, rest_values
from tightseam.document.progress import one_by_one, part_of_it
from tightseam.document.units import CM_TO_MM

SAMPLES = 200
SEED = 1


@dataclass(frozen=True)
class Off:
    """Over `poses` poses of some controls, `what`: how many `mm` a vertex is off at most, in which of them (`values` away from rest) and
    on which `part`; and `typical`, the middle one of the poses' largest."""

    what: str
    poses: int
    mm: float
    typical: float
    part: str
    values: Mapping[str, float]
    pose: str = ""


def errors_of(fitted: Fitted, samples: int = SAMPLES) -> list[Off]:
    """Over the test poses; and over random poses of what drives lids and gaze, of what drives the mouth, and of everything."""
    character = fitted.true.character
    poses = {"test poses": [(p.name, pose_values(character, p)) for p in character.poses]}
    poses |= {what: [("", v) for v in random_values(character, names, samples)] for what, names in groups_of(character).items()}
    found = []
    for k, (what, own) in enumerate(poses.items()):
        with part_of_it(k / len(poses), (k + 1) / len(poses)):
            found.append(_off(fitted, what, own))
    return [off for off in found if off.poses]


def groups_of(character: Character) -> dict[str, set[str]]:
    """Controls of lids and gaze, of the mouth, and all."""
    eyes = {b.name for b in character.bones if b.region == "eyes"}
    jaws = {b.name for b in character.bones if b.region == "jaw"} | {x.lower_bone for x in character.lips}

    def of(kinds: tuple[LinkKind, ...], bones: set[str]) -> set[str]:
        return {c.name for c in character.controls if any(n.kind in kinds or (n.kind == "bone" and n.target in bones) for n in c.links)}

    found = {"lids and gaze": of(CLOSING, eyes), "jaw and lips": of(MOUTH, jaws), "everything": {c.name for c in character.controls}}
    return {what: names for what, names in found.items() if names}


def random_values(character: Character, names: set[str], count: int, seed: int = SEED) -> Iterator[dict[str, float]]:
    """Values of all controls: about half of those named anywhere in their range, all others at rest."""
    rng = np.random.default_rng(seed)
    for _ in range(count):
        values = rest_values(character)
        for control in character.controls:
            if control.name in names and rng.random() < 0.5:
                values[control.name] = float(rng.uniform(control.low, control.high))
        yield values


def _off(fitted: Fitted, what: str, poses: list[tuple[str, dict[str, float]]]) -> Off:
    farthest = np.zeros(len(poses))
    worst = Off(what, len(poses), 0.0, 0.0, "", {})
    for k, (name, values) in enumerate(one_by_one(poses, f"Measuring {what},")):
        off = np.linalg.norm(fitted.true.points(values) - fitted.baked.points(fitted.values(values)), axis=1)
        farthest[k] = CM_TO_MM * off.max()
        if farthest[k] > worst.mm:
            part = next(p for p in fitted.true.meshes.names if int(off.argmax()) < fitted.true.meshes.rows(p).stop)
            worst = Off(what, len(poses), float(farthest[k]), 0.0, part, away_from_rest(fitted.true.character, values), name)
    return replace(worst, typical=float(np.median(farthest))) if poses else worst
