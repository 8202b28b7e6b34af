"""The Landmarks station: eyes, landmarks and bones."""

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router
from tightseam.document.change_bones import hanging_on
from tightseam.document.model import Side
from tightseam.landmarks.seats import Proposal, proposals

from bench import marks, seats
from bench.requests import REFUSED, revision_of, rig_of
from bench.schemas import (
    CutOut,
    EyeSeatOut,
    JobOut,
    LandmarksOut,
    SideCutOut,
)
from bench.waiting import remembered_or_job

router = Router()


@router.get("/characters/{int:id}/eyes", response={200: list[EyeSeatOut], **REFUSED})
def eyes(request: HttpRequest, id: int, revision: int) -> list[EyeSeatOut]:
    """How the eyes sit, and what they touch as they look about."""
    return seats.seats(rig_of(id, revision))


@router.get("/characters/{int:id}/eyes/{side}/proposals", response={200: list[Proposal], 202: JobOut, **REFUSED})
def eye_proposals(request: HttpRequest, id: int, side: Side, revision: int) -> HttpResponse:
    """What could bring an eye closer to its ball, or out of its lids; each found by many sweeps."""
    title = "Looking for what would free the eye"
    return remembered_or_job(request, "eye proposals", title, proposals, revision_of(id, revision), {"side": side})


@router.get("/characters/{int:id}/eyes/{side}/cut", response={200: CutOut, **REFUSED})
def eye_cut(request: HttpRequest, id: int, side: str, revision: int, gaze: int) -> CutOut:
    return seats.cut(rig_of(id, revision), side, gaze)


@router.get("/characters/{int:id}/landmarks", response={200: LandmarksOut, **REFUSED})
def landmarks(request: HttpRequest, id: int, revision: int) -> LandmarksOut:
    """Every landmark there should be: where it belongs, where it is, where it is found on the mesh."""
    return marks.landmarks(rig_of(id, revision))


@router.get("/characters/{int:id}/landmarks/{name}/cut", response={200: SideCutOut, **REFUSED})
def landmark_cut(request: HttpRequest, id: int, name: str, revision: int) -> SideCutOut:
    """A look into the head from the side, through a landmark."""
    return marks.side_cut(rig_of(id, revision), name)


@router.get("/characters/{int:id}/bones/hanging", response={200: list[str], **REFUSED})
def hanging(request: HttpRequest, id: int, revision: int, bones: Query[list[str]]) -> list[str]:
    """What hangs on bones that somebody means to remove, and what would become of it, in sentences."""
    return list(hanging_on(rig_of(id, revision).document, bones))
