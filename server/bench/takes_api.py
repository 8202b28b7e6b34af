"""Takes through HTTP: played into the controls, and measured frame by frame."""

from collections.abc import Mapping

from characters import history
from characters.models import Revision
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field
from tightseam.document.model import Character as Document
from tightseam.mix.take import TakeReport, take_key, take_report
from tightseam.takes.follow import Followed, follow, matched_channels
from tightseam.takes.made import MADE, take

from bench.requests import REFUSED, revision_of, rig_of
from bench.schemas import JobOut
from bench.waiting import report_or_job

router = Router()


class TakeOut(Schema):
    name: str
    label: str
    seconds: float
    channels: list[str]


class FollowTake(Schema):
    """A take to be followed. `mapping` gives controls by channel, None leaves one out; without it they are matched by their names."""

    revision: int
    take: str
    mapping: dict[str, str | None] | None = Field(default=None, max_length=500)
    smooth: float = Field(default=0.08, ge=0, le=2)


class FollowedTake(Schema):
    """Values of controls frame by frame, which frames were lost, and the control of each channel."""

    rate: float
    controls: list[str]
    frames: list[list[float]]
    lost: list[bool]
    mapping: dict[str, str | None]


@router.get("/takes", response=list[TakeOut])
def takes(request: HttpRequest) -> list[TakeOut]:
    """The takes that ship with the application."""
    found = [take(name) for name in MADE]
    return [TakeOut(name=t.name, label=t.label, seconds=len(t.frames) / t.rate, channels=list(t.channels)) for t in found]


@router.post("/characters/{int:id}/takes", response={200: FollowedTake, **REFUSED})
def follow_take(request: HttpRequest, id: int, body: FollowTake) -> FollowedTake:
    """A take as values of controls, as if a capture device sent it."""
    document = rig_of(id, body.revision).document
    mapping = _mapping(document, body)
    followed = _followed(document, body)
    return FollowedTake(
        rate=followed.rate,
        controls=list(followed.controls),
        frames=followed.frames.round(4).tolist(),
        lost=followed.lost.tolist(),
        mapping={channel: mapping.get(channel) for channel in take(body.take).channels},
    )


@router.post("/characters/{int:id}/takes/measured", response={200: TakeReport, 202: JobOut, **REFUSED})
def measured_take(request: HttpRequest, id: int, body: FollowTake) -> HttpResponse:
    """Every frame of a take measured, as it is followed."""
    revision = revision_of(id, body.revision)
    document = history.load(revision)[0]
    key = take_key(document, _followed(document, body))
    return report_or_job(request, "take", f"Measuring {take(body.take).label}", key, revision, body.model_dump(mode="json"))


def measure(revision: Revision, asked: Mapping[str, object]) -> TakeReport:
    """The report of a take that was asked for."""
    document, store = history.load(revision)
    return take_report(document, store, _followed(document, FollowTake.model_validate(asked)))


def _followed(document: Document, body: FollowTake) -> Followed:
    return follow(take(body.take), document, _mapping(document, body), body.smooth)


def _mapping(document: Document, body: FollowTake) -> Mapping[str, str | None]:
    return matched_channels(take(body.take), document) if body.mapping is None else body.mapping
