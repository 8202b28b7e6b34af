"""What the stage draws and measures."""

from characters import history
from django.http import HttpRequest, HttpResponse
from ninja import Router
from tightseam.document.kept import kept_key
from tightseam.document.sections import MEASURED
from tightseam.seams.effects import SideEffects
from tightseam.seams.pose_report import PoseReport

from bench import frames, measuring, shading
from bench.requests import REFUSED, msgpack_answer, revision_of, rig_of, rig_of_draft
from bench.schemas import (
    FrameIn,
    JobOut,
    MeasureIn,
    PullIn,
    PullOut,
)
from bench.waiting import report_or_job

router = Router()


@router.get("/characters/{int:id}/meshes")
def meshes(request: HttpRequest, id: int, revision: int) -> HttpResponse:
    """Msgpack: what the stage draws, as far as no pose changes it."""
    return msgpack_answer(frames.meshes(rig_of(id, revision)))


@router.get("/characters/{int:id}/shading")
def shadings(request: HttpRequest, id: int, revision: int) -> HttpResponse:
    """Msgpack: what light needs to know of the meshes. It takes a second when first asked for; the stage draws without it until then."""
    return msgpack_answer(shading.shading(rig_of(id, revision)))


@router.post("/characters/{int:id}/frame", response=REFUSED)
def frame(request: HttpRequest, id: int, body: FrameIn) -> HttpResponse:
    """Msgpack: a posed frame."""
    rig = rig_of(id, body.revision)
    if body.draft is not None:
        return msgpack_answer(frames.frame(rig_of_draft(body.draft), body, rig))
    pinned = rig_of(id, body.pinned) if body.tint == "pin" and body.pinned is not None else None
    return msgpack_answer(frames.frame(rig, body, pinned))


@router.post("/characters/{int:id}/measure", response={200: PoseReport, **REFUSED})
def measure(request: HttpRequest, id: int, body: MeasureIn) -> PoseReport:
    """All seams in one pose."""
    return measuring.measure(rig_of(id, body.revision), body)


@router.get("/characters/{int:id}/effects", response={200: SideEffects, 202: JobOut, **REFUSED})
def effects(request: HttpRequest, id: int, before: int, after: int) -> HttpResponse:
    """What changed in all test poses from one revision to another."""
    sections = [history.load(revision_of(id, number))[0] for number in (before, after)]
    key = kept_key("effects", sections[1], (*MEASURED, "poses"), kept_key("effects", sections[0], (*MEASURED, "poses")))
    return report_or_job(request, "effects", "Measuring what changed", key, revision_of(id, after), {"before": before})


@router.post("/characters/{int:id}/pull", response={200: PullOut, **REFUSED})
def pull(request: HttpRequest, id: int, body: PullIn) -> PullOut:
    """What moves a vertex and what holds it back."""
    return measuring.pull(rig_of(id, body.revision), body)
