"""The Controls station through HTTP: the face plan, responses as curves."""

from django.http import HttpRequest
from ninja import Router, Schema
from tightseam.controls.face_plan import face_lines
from tightseam.document.model import LinkKind

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
