"""What an edit of weights would do, measured over all test poses. Nothing is stored."""

from dataclasses import asdict

import numpy as np
from characters.models import Revision
from tightseam.binding.checks import reference_weights, weight_findings
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.poses import pose_values, shown_poses
from tightseam.edits.registry import Step
from tightseam.seams.effects import side_effects
from tightseam.seams.meter import SeamMeter

from bench.measuring import readings_of
from bench.rigs import Rig, rigs
from bench.schemas import EffectsOut
from bench.weight_schemas import TryOut

MOST_ARROWS = 400
STILL = 1e-3  # cm that a vertex may move and still be said to stay


def tried(revision: Revision, step: Step) -> TryOut:
    """The document with the edit, against what it is now: seams in all poses, findings, and where vertices go in the pose in which they
    go farthest."""
    rig = rigs.get(revision)
    store = MemoryStore(rig.store)
    changed = step.params.apply(rig.document, store)
    evaluator = Evaluator(changed, store, rig.kept)
    meter = SeamMeter(changed, store, evaluator)
    poses = shown_poses(changed)
    after = {p.name: meter.measure_pose(p) for p in poses}
    effects = side_effects(changed, readings_of(revision), after)
    pose, farthest, arrows = _farthest(rig, changed, evaluator, poses)
    same = changed.bones == rig.document.bones and changed.parts == rig.document.parts
    reference = rig.reference if same else reference_weights(changed, store)
    return TryOut(
        text=step.params.describe(changed),
        effects=EffectsOut(**asdict(effects)),
        findings_before=len(weight_findings(rig.document, rig.store, rig.reference)),
        findings_after=len(weight_findings(changed, store, reference)),
        pose=pose,
        farthest=farthest * 10,
        arrows=arrows,
    )


def _farthest(rig: Rig, changed, evaluator: Evaluator, poses) -> tuple[str | None, float, list[float]]:
    """The pose in which something moves farthest, how far (cm), and arrows there, from before to after."""
    best: tuple[str | None, float, list[float]] = (None, 0.0, [])
    for pose in poses:
        after = evaluator.points(pose_values(changed, pose))
        with rig.lock:
            before = rig.evaluator.points(pose_values(rig.document, pose))
        if before.shape != after.shape:
            return best
        apart = np.linalg.norm(after - before, axis=1)
        if apart.max() > best[1]:
            moved = np.flatnonzero(apart > STILL)
            some = moved[:: max(1, len(moved) // MOST_ARROWS)]
            best = pose.name, float(apart.max()), np.concatenate([before[some], after[some]], axis=1).ravel().round(4).tolist()
    return best
