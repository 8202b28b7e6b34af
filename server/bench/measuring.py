"""Measuring poses, and what moves a place in them."""

from dataclasses import asdict

import numpy as np
from tightseam.deform.pull import Pull, lags, listed, pulls
from tightseam.deform.skeleton import checked_values
from tightseam.document.lookup import pose as find_pose
from tightseam.document.units import CM_TO_MM
from tightseam.seams.follow import expected_weights
from tightseam.seams.pose_report import PoseReport

from bench.rigs import Rig
from bench.schemas import MeasureIn, PullIn, PullOut, PullRowOut

MOST_ARROWS = 120


def measure(rig: Rig, request: MeasureIn) -> PoseReport:
    """What is measured in one pose; in one of the strip once for all heads in which nothing that is measured differs."""
    with rig.measures() as meter:
        if request.pose is None:
            return meter.measure(checked_values(rig.document, request.values))
        return meter.report(find_pose(rig.document, request.pose))


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
