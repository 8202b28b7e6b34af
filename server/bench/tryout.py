"""What an edit of weights, lids or jaw would do, measured over all test poses. Nothing is stored."""

from dataclasses import asdict, dataclass, field, replace
from typing import Literal

import numpy as np
from characters.models import Revision
from tightseam.binding.checks import weight_findings_of
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.channels import channels_of
from tightseam.document.model import Character
from tightseam.document.poses import pose_values, rest_values, shown_poses
from tightseam.edits.registry import Step
from tightseam.jaw.findings import findings_of
from tightseam.lids.findings import lid_findings
from tightseam.seams.effects import side_effects
from tightseam.seams.meter import SeamMeter
from tightseam.shapes.checks import shape_findings

from bench.measuring import readings_of
from bench.rigs import Rig, rigs
from bench.schemas import EffectsOut
from bench.weight_schemas import TryOut

MOST_ARROWS = 400
MOST_BONES = 12  # that are moved by themselves
STILL = 1e-3  # cm that a vertex may move and still be said to stay


def tried(revision: Revision, step: Step) -> TryOut:
    """The document with the edit, against what it is now: seams in all poses, findings, and where vertices go in the pose in which they
    go farthest."""
    rig = rigs.get(revision)
    store = MemoryStore(rig.store)
    changed = step.params.apply(rig.document, store)
    evaluator = Evaluator(changed, store)
    meter = SeamMeter(changed, store, evaluator)
    poses = shown_poses(changed)
    after = {p.name: meter.measure_pose(p) for p in poses}
    effects = side_effects(changed, readings_of(revision), after)
    where = _farthest(rig, changed, evaluator, [*_strip(changed), *_own_moves(rig, changed)])
    find = FINDINGS[_kind(step)]
    before, after_it = (len(find(*of)) for of in ((rig.document, rig.store), (changed, store)))
    return TryOut(
        text=step.params.describe(changed),
        effects=EffectsOut(**asdict(effects)),
        findings_of=_kind(step),
        findings_before=before,
        findings_after=after_it,
        pose=where.pose if where else None,
        values=where.values if where else {},
        label=where.label if where else None,
        farthest=where.farthest * 10 if where else 0.0,
        arrows=where.arrows if where else [],
    )


def _kind(step: Step) -> Literal["lids", "jaw", "weights", "shapes"]:
    """Which findings an edit is about."""
    family = step.edit.partition(".")[0]
    if family == "shape" or step.edit == "binding.set_order":
        return "shapes"
    return "lids" if family == "lids" else "jaw" if family in ("jaw", "relief", "lips") else "weights"


FINDINGS = {"lids": lid_findings, "jaw": findings_of, "weights": weight_findings_of, "shapes": shape_findings}


@dataclass
class Where:
    """Somewhere to look at what changes: a pose of the strip by its name, or values; what goes how far there (cm), and arrows."""

    pose: str | None
    label: str
    values: dict[str, float]
    farthest: float = 0.0
    arrows: list[float] = field(default_factory=list)


def _strip(document: Character) -> list[Where]:
    return [Where(p.name, f"in {p.label}", pose_values(document, p)) for p in shown_poses(document)]


def _own_moves(rig: Rig, changed: Character) -> list[Where]:
    """The bones whose weights change, each moved half of what its own control allows: no pose of the strip may move them."""
    before = {(b.part, i.bone): (i.vertices, i.weights) for b in rig.document.bindings for i in b.influences}
    after = {(b.part, i.bone): (i.vertices, i.weights) for b in changed.bindings for i in b.influences}
    names = {bone for part, bone in before.keys() | after.keys() if before.get((part, bone)) != after.get((part, bone))}
    found = []
    for bone in (b for b in changed.bones if b.name in names and b.role == "deform"):
        turns = channels_of(bone)
        if turns:
            widest = max(turns, key=lambda c: c.span[1] - c.span[0])
            end = max(widest.span, key=abs)
            found.append(Where(None, f"when only {bone.label} moves", rest_values(changed) | {widest.name: end / 2}))
    return found[:MOST_BONES]


def _farthest(rig: Rig, changed: Character, evaluator: Evaluator, places: list[Where]) -> Where | None:
    """The place in which something moves farthest; None where nothing does."""
    best: Where | None = None
    unchanged = rig.evaluator()
    for place in places:
        after, before = evaluator.points(place.values), unchanged.points(place.values)
        if before.shape != after.shape:
            return None
        apart = np.linalg.norm(after - before, axis=1)
        if apart.max() > (best.farthest if best else STILL):
            moved = np.flatnonzero(apart > STILL)
            some = moved[:: max(1, len(moved) // MOST_ARROWS)]
            arrows = np.concatenate([before[some], after[some]], axis=1).ravel().round(4).tolist()
            best = replace(place, farthest=float(apart.max()), arrows=arrows)
    return best
