"""The Landmarks station: eyes, landmarks and bones."""

from ninja import Query, Router
from tightseam.document.change_bones import hanging_on

from bench import marks, seats
from bench.requests import REFUSED, rig_of
from bench.schemas import (
    CutOut,
    EyeSeatOut,
    LandmarksOut,
    ProposalOut,
    SideCutOut,
)

router = Router()


@router.get("/characters/{int:id}/eyes", response={200: list[EyeSeatOut], **REFUSED})
def eyes(request, id: int, revision: int):
    """How the eyes sit, and what they touch as they look about."""
    return seats.seats(rig_of(id, revision))


@router.get("/characters/{int:id}/eyes/{side}/proposals", response={200: list[ProposalOut], **REFUSED})
def eye_proposals(request, id: int, side: str, revision: int):
    return seats.proposals(rig_of(id, revision), side)


@router.get("/characters/{int:id}/eyes/{side}/cut", response={200: CutOut, **REFUSED})
def eye_cut(request, id: int, side: str, revision: int, gaze: int):
    return seats.cut(rig_of(id, revision), side, gaze)


@router.get("/characters/{int:id}/landmarks", response={200: LandmarksOut, **REFUSED})
def landmarks(request, id: int, revision: int):
    """Every landmark there should be: where it belongs, where it is, where it is found on the mesh."""
    return marks.landmarks(rig_of(id, revision))


@router.get("/characters/{int:id}/landmarks/{name}/cut", response={200: SideCutOut, **REFUSED})
def landmark_cut(request, id: int, name: str, revision: int):
    """A look into the head from the side, through a landmark."""
    return marks.side_cut(rig_of(id, revision), name)


@router.get("/characters/{int:id}/bones/hanging", response={200: list[str], **REFUSED})
def hanging(request, id: int, revision: int, bones: Query[list[str]]):
    """What hangs on bones that somebody means to remove, and what would become of it, in sentences."""
    return hanging_on(rig_of(id, revision).document, bones)
