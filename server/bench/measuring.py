"""Measuring poses, with the results of strip poses kept for all revisions that are alike to the meter."""

from dataclasses import asdict

import numpy as np
from characters import reports
from characters.models import Revision
from tightseam.deform.pull import Pull, lags, listed, pulls
from tightseam.deform.skeleton import checked_values
from tightseam.document.lookup import pose as find_pose
from tightseam.document.model import Pose
from tightseam.document.poses import pose_values, shown_poses
from tightseam.document.sections import MEASURED
from tightseam.document.units import CM_TO_MM
from tightseam.seams.effects import SideEffects, side_effects
from tightseam.seams.findings import findings
from tightseam.seams.follow import expected_weights

from bench.rigs import Rig, rigs
from bench.schemas import MeasureIn, MeasureOut, PullIn, PullOut, PullRowOut

MOST_ARROWS = 120


def measure(revision: Revision, request: MeasureIn) -> MeasureOut:
    """Readings and findings of one pose; a strip pose is measured once for all revisions in which nothing that is measured differs."""
    rig = rigs.get(revision)
    if request.pose is None:
        return _measured(rig, None, request)
    key = pose_key(revision, find_pose(rig.document, request.pose))
    return MeasureOut(**reports.kept_or_made(key, lambda: _measured(rig, request.pose, request).model_dump(mode="json")))


def pose_key(revision: Revision, pose: Pose) -> str:
    return reports.report_key("pose, one kind of finding", revision, MEASURED, asdict(pose))


def _measured(rig: Rig, pose_name: str | None, request: MeasureIn) -> MeasureOut:
    pose = None if pose_name is None else find_pose(rig.document, pose_name)
    values = checked_values(rig.document, request.values) if pose is None else pose_values(rig.document, pose)
    with rig.measures() as measures:
        readings = measures.seams.measure(values, () if pose is None else pose.closes)
        uneven = measures.mirror.read(values, readings)
    found = [] if pose is None else findings(rig.document, rig.store, rig.evaluator(), {pose.name: readings})
    return MeasureOut(
        pose=pose_name,
        within=all(r.within for r in readings),
        readings=[asdict(r) for r in readings],
        uneven=uneven,
        findings=[asdict(f) for f in found],
    )


def effects(before: Revision, after: Revision) -> SideEffects:
    """All poses of a revision against those of another one: what is not measured yet is measured now."""
    document = rigs.get(after).document
    sides = [readings_of(revision) for revision in (before, after)]
    return side_effects(document, *sides)


def readings_of(revision: Revision) -> dict:
    """Readings of every pose of the strip, by its name."""
    poses = shown_poses(rigs.get(revision).document)
    return {p.name: measure(revision, MeasureIn(revision=revision.number, pose=p.name)).readings for p in poses}


def pull(rig: Rig, request: PullIn) -> PullOut:
    """What moves vertices in a pose, and what holds them back where something should carry their part."""
    values = checked_values(rig.document, request.values)
    part, vertices = request.part, request.vertices
    follow = next((s for s in rig.document.seams if s.kind == "follow" and s.probe == part), None)
    evaluator = rig.evaluator()
    found = pulls(evaluator, part, vertices, values)
    held = None
    if follow is not None:
        expected = expected_weights(follow, rig.document, rig.store)[vertices]
        held = lags(evaluator, part, vertices, values, expected)
    posed = evaluator.points(values)[evaluator.meshes.rows(part)][vertices]
    turn = np.linalg.inv(evaluator.to_head(evaluator.posed_by))[:3, :3]
    return PullOut(
        part=part,
        vertices=len(vertices),
        total=sum(float(c.weights.mean()) for c in found if c.weights is not None),
        moved=_length(found),
        pull=_rows(found, posed, turn),
        lag=None if held is None else _rows(held, posed, turn),
        lag_millimetres=None if held is None else _length(held),
    )


def _rows(causes: list[Pull], posed: np.ndarray, turn: np.ndarray) -> list[PullRowOut]:
    """Rows with arrows: `posed` (K, 3) are the vertices, `turn` (3, 3) turns what is seen from the head into the world."""
    some = np.unique(np.linspace(0, len(posed) - 1, min(len(posed), MOST_ARROWS)).astype(int))
    by_name = {(c.kind, c.name): c for c in causes}
    answer = []
    for row in listed(causes):
        along = by_name[row.kind, row.name].vectors[some] @ turn.T / CM_TO_MM
        ends = np.stack([posed[some], posed[some] + along], axis=1)
        answer.append(PullRowOut(**asdict(row), arrows=np.round(ends.ravel(), 4).tolist()))
    return answer


def _length(causes: list[Pull]) -> float:
    """How far the causes move the vertices together, on the mean, mm."""
    return float(np.linalg.norm(sum(c.vectors for c in causes), axis=1).mean())
