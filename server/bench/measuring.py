"""Measuring poses, with the results of strip poses kept per revision."""

from dataclasses import asdict

from characters.models import PoseReport, Revision
from tightseam.deform.pull import lag_list, pull_list
from tightseam.deform.skeleton import checked_values
from tightseam.document.lookup import pose as find_pose
from tightseam.seams.effects import side_effects
from tightseam.seams.findings import findings
from tightseam.seams.follow import expected_weights

from bench.rigs import Rig, rigs
from bench.schemas import EffectsOut, MeasureIn, MeasureOut, PullIn, PullOut, PullRowOut


def measure(revision: Revision, request: MeasureIn) -> MeasureOut:
    """Readings and findings of one pose; a strip pose is measured once a revision."""
    if request.pose is None:
        return _measured(rigs.get(revision), None, request)
    kept = PoseReport.objects.filter(revision=revision, pose=request.pose).first()
    if kept is not None:
        return MeasureOut(**kept.report)
    answer = _measured(rigs.get(revision), request.pose, request)
    PoseReport.objects.get_or_create(revision=revision, pose=request.pose, defaults={"report": answer.model_dump(mode="json")})
    return answer


def _measured(rig: Rig, pose_name: str | None, request: MeasureIn) -> MeasureOut:
    with rig.lock:
        if pose_name is None:
            readings = rig.meter().measure(checked_values(rig.document, request.values))
            found = []
        else:
            readings = rig.meter().measure_pose(find_pose(rig.document, pose_name))
            found = findings(rig.document, rig.store, rig.evaluator, {pose_name: readings})
    return MeasureOut(
        pose=pose_name, within=all(r.within for r in readings), readings=[asdict(r) for r in readings], findings=[asdict(f) for f in found]
    )


def effects(before: Revision, after: Revision) -> EffectsOut:
    """All poses of a revision against those of another one: what is not measured yet is measured now."""
    document = rigs.get(after).document
    sides = [
        {p.name: measure(revision, MeasureIn(revision=revision.number, pose=p.name)).readings for p in rigs.get(revision).document.poses}
        for revision in (before, after)
    ]
    return EffectsOut(**asdict(side_effects(document, *sides)))


def pull(rig: Rig, request: PullIn) -> PullOut:
    """What moves a vertex in a pose, and what holds it back where something should carry its part."""
    values = checked_values(rig.document, request.values)
    follow = next((s for s in rig.document.seams if s.kind == "follow" and s.probe == request.part), None)
    with rig.lock:
        rows = pull_list(rig.evaluator, request.part, request.vertex, values)
        lag = None
        if follow is not None:
            expected = expected_weights(follow, rig.document, rig.store)[request.vertex]
            lag = lag_list(rig.evaluator, request.part, request.vertex, values, expected)
    return PullOut(
        part=request.part,
        vertex=request.vertex,
        total=sum(r.weight or 0.0 for r in rows),
        moved=_length(rows),
        pull=[PullRowOut(**asdict(r)) for r in rows],
        lag=None if lag is None else [PullRowOut(**asdict(r)) for r in lag],
        lag_millimetres=None if lag is None else _length(lag),
    )


def _length(rows) -> float:
    return sum(sum(r.vector[k] for r in rows) ** 2 for k in range(3)) ** 0.5
