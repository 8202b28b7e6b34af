"""What is wrong at each station, and what an edit would do about it."""

from ninja import Router
from tightseam.findings.finding import Finding
from tightseam.tryout.stations import FINDINGS, Station
from tightseam.tryout.tried import Tried
from tightseam.tryout.tried import tried as tried_out

from bench.requests import REFUSED, rig_of
from bench.schemas import EditIn

router = Router()


@router.get("/characters/{int:id}/findings/{station}", response={200: list[Finding], **REFUSED})
def findings(request, id: int, station: Station, revision: int):
    """All that a station finds wrong; measured once for all revisions that are alike."""
    rig = rig_of(id, revision)
    return FINDINGS[station](rig.document, rig.store)


@router.post("/characters/{int:id}/try", response={200: Tried, **REFUSED})
def try_out(request, id: int, body: EditIn):
    """What an edit would do. Nothing is stored."""
    rig = rig_of(id, body.base)
    return tried_out(rig.document, rig.store, body.step)
