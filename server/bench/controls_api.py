"""The Controls station through HTTP: the face plan, responses as curves, takes."""

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field
from tightseam.controls.face_plan import face_lines
from tightseam.document.model import LinkKind
from tightseam.takes.follow import follow, matched_channels
from tightseam.takes.made import MADE, take

from bench.curves import CurveOut, curve_out
from bench.requests import REFUSED, rig_of

router = Router()


class LinkCurve(Schema):
    """The response of one link that goes along a curve, over the range of its control."""

    control: str
    kind: LinkKind
    target: str
    axis: str | None
    by: str
    curve: CurveOut


class ControlsOut(Schema):
    """Lines of the face on the plan by name, from the left and from the top (0 to 1), and the curves of links."""

    lines: dict[str, list[list[tuple[float, float]]]]
    curves: list[LinkCurve]


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


@router.get("/characters/{int:id}/controls", response={200: ControlsOut, **REFUSED})
def controls(request: HttpRequest, id: int, revision: int) -> ControlsOut:
    """What the Controls station draws."""
    rig = rig_of(id, revision)
    curves = [
        LinkCurve(control=c.name, kind=n.kind, target=n.target, axis=n.axis, by=n.by, curve=curve_out(n.curve, c.low, c.high))
        for c in rig.document.controls
        for n in c.links
        if n.curve
    ]
    return ControlsOut(lines=face_lines(rig.document, rig.store), curves=curves)


@router.get("/takes", response=list[TakeOut])
def takes(request: HttpRequest) -> list[TakeOut]:
    """The takes that ship with the application."""
    found = [take(name) for name in MADE]
    return [TakeOut(name=t.name, label=t.label, seconds=len(t.frames) / t.rate, channels=list(t.channels)) for t in found]


@router.post("/characters/{int:id}/takes", response={200: FollowedTake, **REFUSED})
def follow_take(request: HttpRequest, id: int, body: FollowTake) -> FollowedTake:
    """A take as values of controls, as if a capture device sent it."""
    document = rig_of(id, body.revision).document
    found = take(body.take)
    mapping = matched_channels(found, document) if body.mapping is None else body.mapping
    followed = follow(found, document, mapping, body.smooth)
    return FollowedTake(
        rate=followed.rate,
        controls=list(followed.controls),
        frames=followed.frames.round(4).tolist(),
        lost=followed.lost.tolist(),
        mapping={channel: mapping.get(channel) for channel in found.channels},
    )
