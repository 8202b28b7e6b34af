"""Faults planted at random, whose truth is known: which two controls bring them about, as what kind, and where."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from tightseam.document.model import Character, Control, CurveKey, Link
from tightseam.mending.mended import mendings
from tightseam.mending.mending import Mending
from tightseam.mending.swept import swept as swept_head
from tightseam.mix.groups import ONE_PLACE, Group, grouped, one_fault
from tightseam.mix.report import BoardFinding
from tightseam.mix.sweep import sweep
from tightseam.mix.sweeper import Sweeper

from tests.core.mix_faults import Planter
from tests.head import Head

SHAPED = ("smile", "pucker", "brows_up")  # controls of one shape each
OTHERS = ("blink_L", "blink_R", "squint", "gaze_across", "jaw_open", "jaw_side", "head_turn")
NEAR = 2 * ONE_PLACE  # cm from the middle of a planted fault up to which it reaches
BESIDE = 2  # controls that have nothing to do with it
ROUGH = {"crumple", "flip", "squeeze", "self", "drift"}  # what rides on rough skin drifts


@dataclass(frozen=True)
class Planting:
    """A head with a fault, and the truth of it: the two controls, the kinds that it may be told as, and its place in the neutral."""

    character: Character
    controls: tuple[str, str]
    kinds: frozenset[str]
    place: np.ndarray


def planted(head: Head, seed: int) -> tuple[Head, Planting]:
    """A head with the fault of this seed, and without most of its controls."""
    rng = np.random.default_rng(seed)
    plant, controls = ((_rough, SHAPED), (_sunken, (*SHAPED, *OTHERS[:5])), (_lid, SHAPED))[int(rng.integers(3))]
    pair = _pair(rng, controls)
    if plant is _lid:
        pair = pair[0], str(rng.choice(("blink_L", "blink_R")))
    beside = rng.choice([c for c in (*SHAPED, *OTHERS) if c not in pair], BESIDE, replace=False)
    few = head.with_controls((*pair, *beside))
    planter = Planter(few)
    found = plant(planter, pair, rng)
    return Head(found.character, planter.store), found


def _pair(rng: np.random.Generator, controls: Sequence[str]) -> tuple[str, str]:
    """Two controls that are swept together: lids that do the same are not."""
    while True:
        one, other = (str(c) for c in rng.choice(controls, 2, replace=False))
        if not {one, other} <= {"blink_L", "blink_R", "squint"}:
            return one, other


def _rough(planter: Planter, pair: Sequence[str], rng: np.random.Generator) -> Planting:
    """Two shapes that are each a little rough at one place of the face."""
    middle = planter.somewhere(rng, pair)
    planter.character = planter.roughened(middle, 0.9 + 0.2 * rng.random(), pair)
    return Planting(planter.character, tuple(pair), frozenset(ROUGH), planter.points[middle])


def _sunken(planter: Planter, pair: Sequence[str], rng: np.random.Generator) -> Planting:
    """A corrective that two controls drive half each, and that does something only where both do: a dent in a cheek."""
    side = "LR"[int(rng.integers(2))]
    place, relief = planter.dent(side, 0.35 + 0.3 * rng.random())
    late = (CurveKey(0, 0), CurveKey(0.6, 0), CurveKey(1, 1))
    hidden = Control("dent", "Dent", 0, 1, 0, (Link("relief", relief.name, 1, curve=late),))
    ends = {c.name: c.high - c.rest for c in planter.character.controls}
    drive = {name: Link("control", "dent", 0.5 / ends[name]) for name in pair}
    controls = tuple(replace(c, links=(*c.links, drive[c.name])) if c.name in drive else c for c in planter.character.controls)
    character = replace(planter.character, reliefs=(*planter.character.reliefs, relief), controls=(*controls, hidden))
    return Planting(character, tuple(pair), frozenset({"hollow"}), place)


def _lid(planter: Planter, pair: Sequence[str], rng: np.random.Generator) -> Planting:
    """A shape that presses a lower lid on the eye, where the lid has become too thin to be closed under it."""
    side = pair[1][-1]
    character = planter.lid(side, 0.72 + 0.05 * rng.random(), 0.13, pair[0])
    return Planting(character, tuple(pair), frozenset({"clash", "off", "drift"}), planter.mark(f"lid_lower_{side}"))


@dataclass(frozen=True)
class Outcome:
    """Was it found, as its kind at its place, and with the right pair? How many causes that a clean head does not have come of it, for
    they lie there and one of its controls is in them, and how many have nothing to do with it?"""

    found: bool
    right_pair: bool
    own: int
    strays: int


def outcome(head: Head, seed: int) -> Outcome:
    """Of one planting, against the same head without it."""
    faulty, planting = planted(head, seed)
    swept, clean = (sweep(character, faulty.store) for character in (faulty.character, _without(head, faulty)))
    sweeper = Sweeper(faulty.character, faulty.store)
    sweeper.taught({}, swept.bases)
    where = sweeper.meter.place_at_rest
    known = [(f, where(f)) for f in clean.findings]
    fresh = [f for f in swept.findings if not any(one_fault((f, where(f)), other) for other in known)]
    controls = {e.name: e.control for e in swept.ends}

    def about(group: Group) -> set[str]:
        return {controls[d.end] for d in sweeper.meant(group.worst.cell)}

    groups = grouped(fresh, swept.images, where)
    near = [g for g in groups if any(np.linalg.norm(where(f) - planting.place) < NEAR for f in g.findings)]
    own = [g for g in near if about(g) & set(planting.controls)]
    told = [g for g in own if any(f.kind in planting.kinds for f in g.findings)]
    return Outcome(bool(told), any(about(g) == set(planting.controls) for g in told), len(own), len(groups) - len(own))


def ways_to_mend(head: Head, seed: int) -> list[Mending] | None:
    """The ways to put right what one planting does, by the cause that tells of it; None where none does."""
    faulty, planting = planted(head, seed)
    before = swept_head(faulty.character, faulty.store)
    controls, findings = {e.name: e.control for e in before.report.ends}, before.report.findings

    def tells(finding: BoardFinding) -> bool:
        near = np.linalg.norm(np.subtract(finding.place_at_rest, planting.place)) < NEAR
        return near and finding.kind in planting.kinds and {controls[e] for e in finding.ends} == set(planting.controls)

    cause = next((c for c in before.report.causes if any(tells(findings[k]) for k in c.findings)), None)
    return None if cause is None else mendings(before, cause)


def _without(head: Head, faulty: Head) -> Character:
    """The faulty head as it was before."""
    few = head.with_controls({c.name for c in faulty.character.controls}).character
    return replace(faulty.character, shapes=few.shapes, reliefs=few.reliefs, controls=few.controls)
