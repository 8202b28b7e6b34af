"""What the stage draws and measures."""

from ninja import Router
from tightseam.seams.effects import SideEffects

from bench import frames, measuring, shading
from bench.requests import REFUSED, msgpack_answer, revision_of, rig_of
from bench.schemas import (
    FrameIn,
    MeasureIn,
    MeasureOut,
    PullIn,
    PullOut,
)

router = Router()


@router.get("/characters/{int:id}/meshes")
def meshes(request, id: int, revision: int):
    """Msgpack: what the stage draws, as far as no pose changes it."""
    return msgpack_answer(frames.meshes(rig_of(id, revision)))


@router.get("/characters/{int:id}/shading")
def shadings(request, id: int, revision: int):
    """Msgpack: what light needs to know of the meshes. It takes a second when first asked for; the stage draws without it until then."""
    return msgpack_answer(shading.shading(rig_of(id, revision)))


@router.post("/characters/{int:id}/frame", response=REFUSED)
def frame(request, id: int, body: FrameIn):
    """Msgpack: a posed frame."""
    pinned = rig_of(id, body.pinned) if body.tint == "pin" and body.pinned is not None else None
    return msgpack_answer(frames.frame(rig_of(id, body.revision), body, pinned))


@router.post("/characters/{int:id}/measure", response={200: MeasureOut, **REFUSED})
def measure(request, id: int, body: MeasureIn):
    """All seams in one pose."""
    return measuring.measure(revision_of(id, body.revision), body)


@router.get("/characters/{int:id}/effects", response={200: SideEffects, **REFUSED})
def effects(request, id: int, before: int, after: int):
    """What changed in all test poses from one revision to another."""
    return measuring.effects(revision_of(id, before), revision_of(id, after))


@router.post("/characters/{int:id}/pull", response={200: PullOut, **REFUSED})
def pull(request, id: int, body: PullIn):
    """What moves a vertex and what holds it back."""
    return measuring.pull(rig_of(id, body.revision), body)
