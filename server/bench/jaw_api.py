"""The Jaw station through HTTP: how the jaw moves, what the lower face and the neck do, what is wrong."""

from dataclasses import asdict
from typing import Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field
from tightseam.bake.mouth import BakeError, bake_errors
from tightseam.deform.skeleton import checked_values
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character as Document
from tightseam.document.model import Point
from tightseam.document.mouth_model import CORNERS, SEALS, Relief, ReliefWay
from tightseam.jaw.curves import JawCurves
from tightseam.jaw.cut import CutName, jaw_cut
from tightseam.jaw.movement import OPEN, SIDE, THRUST, Movement, driver, jaw_bone, movement_of
from tightseam.jaw.neck import NeckReport
from tightseam.jaw.needs import relief_needs as needs_of
from tightseam.jaw.reliefs import PRESETS, PresetName
from tightseam.jaw.teeth import teeth_gap
from tightseam.surfaces.patches import REGIONS

from bench.curves import CurveOut, curve_out
from bench.requests import REFUSED, revision_of, rig_of
from bench.rigs import Rig
from bench.schemas import JobOut
from bench.waiting import remembered_or_job

router = Router()


class DrivenOut(Schema):
    """What drives a relief, a seal or a corner: a control, and the curve of its response or so much a unit of it."""

    control: str
    curve: CurveOut
    gain: float


class ReliefOut(Schema):
    name: str
    label: str
    part: str
    count: int
    cm: float
    direction: ReliefWay
    way: Point | None
    lined: bool
    profile: CurveOut
    exaggerate: float
    muted: bool
    twin: str | None
    driven: list[DrivenOut]


class LipsOut(Schema):
    balance: float
    ahead: float
    stick: float
    soft: float
    zip: CurveOut
    driven: dict[str, list[DrivenOut]]


class PresetOut(Schema):
    name: PresetName
    label: str


class NeedOut(Schema):
    """A relief that the posed head asks for: what was found there, mm, and the cm that would take it back."""

    preset: PresetName
    label: str
    found: Literal["hollow", "full", "dragged"]
    size: float
    cm: float


class JawOut(Schema):
    """How the jaw moves, the controls that move it, and what is set up."""

    movement: Movement
    controls: dict[str, str | None] = Field(description="what opens the jaw, and takes it to the side and forward")
    bone: str
    hinge: Point
    teeth_gap: float | None = Field(description="mm between upper and lower teeth at rest, negative where they overlap")
    presets: list[PresetOut]
    reliefs: list[ReliefOut]
    lips: LipsOut | None


class CurvesIn(Schema):
    """Values of controls that act beside the opening."""

    revision: int
    values: dict[str, float] = Field(default={}, max_length=1000)


class RegionCurve(Schema):
    """How deep a region sinks in at each opening, and how deep reliefs ask it to, mm."""

    name: str
    label: str
    hollow: list[float]
    asked: list[float]


class CurvesOut(Schema):
    """By opening: hollows, the volume of the lower face in per cent, the lip gap in mm along the lips, and the ways of the chin and of a
    lower tooth, forward and up, mm."""

    openings: list[float]
    regions: list[RegionCurve]
    volume: list[float]
    places: list[float]
    gap: list[list[float]]
    chin: list[tuple[float, float]]
    tooth: list[tuple[float, float]] | None


class JawCutIn(Schema):
    revision: int
    cut: CutName = "cheeks"
    at: float = Field(default=0.5, ge=0, le=1)
    values: dict[str, float] = Field(default={}, max_length=1000)


class JawCutOut(Schema):
    """Lines of the skin posed and in the neutral, mm."""

    posed: list[list[tuple[float, float]]]
    neutral: list[list[tuple[float, float]]]


@router.get("/characters/{int:id}/jaw", response={200: JawOut, **REFUSED})
def jaw(request: HttpRequest, id: int, revision: int) -> JawOut:
    """How the jaw moves, reliefs and lips."""
    rig = rig_of(id, revision)
    document = rig.document
    bone = jaw_bone(document)
    controls = {name: driver(document, name) for name in (OPEN, SIDE, THRUST)}
    return JawOut(
        movement=movement_of(document),
        controls={name: c and c.name for name, c in controls.items()},
        bone=bone.name,
        hinge=bone.base,
        teeth_gap=teeth_gap(document, rig.store),
        presets=[PresetOut(name=name, label=p.label) for name, p in PRESETS.items()],
        reliefs=[_relief(rig, document, r) for r in document.reliefs],
        lips=_lips(document),
    )


@router.get("/characters/{int:id}/jaw/needs", response={200: list[NeedOut], **REFUSED})
def relief_needs(request: HttpRequest, id: int, revision: int) -> list[NeedOut]:
    """Where the posed head asks for a relief, with the jaw wide open."""
    with rig_of(id, revision).lower_face() as meters:
        measured = needs_of(meters.jaw)
    return [NeedOut(label=PRESETS[n.preset].label, **asdict(n)) for n in measured]


@router.post("/characters/{int:id}/jaw/curves", response={200: CurvesOut, **REFUSED})
def jaw_curves(request: HttpRequest, id: int, body: CurvesIn) -> CurvesOut:
    """What the lower face does over the opening of the jaw."""
    rig = rig_of(id, body.revision)
    values = checked_values(rig.document, body.values)
    with rig.lower_face() as meters:
        return _curves(meters.jaw.measure(values))


@router.post("/characters/{int:id}/jaw/section", response={200: JawCutOut, **REFUSED})
def jaw_section(request: HttpRequest, id: int, body: JawCutIn) -> JawCutOut:
    """The outline of the cheeks, or of the middle of the face, against the neutral."""
    rig = rig_of(id, body.revision)
    values = checked_values(rig.document, body.values, overdrive=True)
    with rig.lower_face() as meters:
        cut = jaw_cut(meters.jaw, body.cut, body.at, values)
    posed, neutral = ([line.round(3).tolist() for line in lines] for lines in (cut.posed, cut.neutral))
    return JawCutOut(posed=posed, neutral=neutral)


@router.get("/characters/{int:id}/jaw/neck", response={200: NeckReport, **REFUSED})
def jaw_neck(request: HttpRequest, id: int, revision: int, line: float | None = None) -> NeckReport:
    """How hard the head stays above a line (cm up the neutral), and what becomes of the neck."""
    with rig_of(id, revision).lower_face() as meters:
        if meters.neck is None:
            raise BadRequest("The parent of the head bone is no neck bone. Build bones at Landmarks to measure one.")
        return meters.neck.measure(line)


@router.get("/characters/{int:id}/jaw/baked", response={200: list[BakeError], 202: JobOut, **REFUSED})
def jaw_baked(request: HttpRequest, id: int, revision: int) -> HttpResponse:
    """How far off shapes are that stand in for reliefs and lips."""
    return remembered_or_job(request, "bake errors", "Measuring what shapes can stand in for", bake_errors, revision_of(id, revision))


def _curves(found: JawCurves) -> CurvesOut:
    return CurvesOut(
        openings=list(found.openings),
        regions=[
            RegionCurve(name=n, label=REGIONS[n], hollow=row.round(4).tolist(), asked=found.asked[n].round(4).tolist())
            for n, row in found.hollow.items()
        ],
        volume=found.volume.round(3).tolist(),
        places=found.places.round(4).tolist(),
        gap=found.gap.round(3).tolist(),
        chin=found.chin.round(3).tolist(),
        tooth=None if found.tooth is None else found.tooth.round(3).tolist(),
    )


def _relief(rig: Rig, document: Document, relief: Relief) -> ReliefOut:
    kept = {n: getattr(relief, n) for n in ("name", "label", "part", "cm", "direction", "way", "exaggerate", "muted", "twin")}
    return ReliefOut(
        **kept,
        count=len(np.asarray(rig.store.get(relief.vertices))),
        lined=bool(relief.line),
        profile=curve_out(relief.profile, -1, 1),
        driven=_driven(document, "relief", relief.name),
    )


def _lips(document: Document) -> LipsOut | None:
    if not document.lips:
        return None
    lips = document.lips[0]
    driven = {t: _driven(document, "seal" if t in SEALS else "corner", t) for t in (*SEALS, *CORNERS)}
    kept = {n: v for n, v in asdict(lips).items() if n in ("balance", "ahead", "stick", "soft")}
    return LipsOut(**kept, zip=curve_out(lips.zip, 0, 1), driven=driven)


def _driven(document: Document, kind: str, target: str) -> list[DrivenOut]:
    links = ((c, n) for c in document.controls for n in c.links if (n.kind, n.target) == (kind, target))
    return [DrivenOut(control=c.name, curve=curve_out(n.curve, c.low, c.high), gain=n.gain) for c, n in links]
