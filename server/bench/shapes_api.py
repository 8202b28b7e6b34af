"""The Shapes station through HTTP: the sheet, name lists, targets taken in, what is wrong, sculpting."""

import csv
import io

import numpy as np
from characters import history
from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, UploadedFile
from tightseam.deform.skeleton import checked_values
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import shape as find_shape
from tightseam.document.twins import other_side
from tightseam.document.units import CM_TO_MM
from tightseam.shapes.name_list import SHIPPED, matched, read_names, shipped_list
from tightseam.shapes.offsets import offsets_of
from tightseam.shapes.posed import BonePose
from tightseam.shapes.sheet import shape_rows
from tightseam.shapes.sides import alone
from tightseam.shapes.starter import CATALOGUE
from tightseam.shapes.taken_along import LIES_ON_SKIN

from bench.painting import painting
from bench.requests import REFUSED, character_of, download, msgpack_answer, revision_of, rig_of, uploaded
from bench.schemas import JobOut
from bench.shape_schemas import (
    LeftIn,
    LeftOut,
    ListOut,
    NamesIn,
    NamesOut,
    OrderOut,
    SculptIn,
    ShapesOut,
    UnitOut,
    WantedOut,
)
from bench.waiting import lasting_job, said_of

router = Router()


@router.get("/characters/{int:id}/shapes", response={200: ShapesOut, **REFUSED})
def sheet(request: HttpRequest, id: int, revision: int) -> ShapesOut:
    """All shapes in a row each, and the order of deformation of the parts that they move."""
    rig = rig_of(id, revision)
    moved = {d.part for s in rig.document.shapes for d in s.deltas}
    orders = [OrderOut(part=b.part, first="bones" if b.bones_first else "shapes") for b in rig.document.bindings if b.part in moved]
    lying = {p.name for p in rig.document.parts if p.kind in LIES_ON_SKIN}  # goes along with it
    units = [UnitOut(number=number, label=label) for number, label in CATALOGUE]
    rows, lost = shape_rows(rig.document, rig.store), alone(rig.document, rig.store, moved - lying)
    return ShapesOut(rows=rows, alone=lost, orders=orders, units=units)


@router.get("/name-lists", response=list[ListOut])
def name_lists(request: HttpRequest) -> list[ListOut]:
    """The name lists that ship with the application."""
    found = [(key, shipped_list(key)) for key in SHIPPED]
    return [ListOut(key=key, name=names.name, about=names.about) for key, names in found]


@router.post("/characters/{int:id}/shapes/names", response={200: NamesOut, **REFUSED})
def match_names(request: HttpRequest, id: int, body: NamesIn) -> NamesOut:
    """How the names of the shapes stand to a list."""
    if body.key is None and not body.text:
        raise BadRequest("Choose a name list, or a file with one.")
    wanted = shipped_list(body.key) if body.key is not None else read_names(body.text.encode(), body.file)
    found = matched([s.name for s in rig_of(id, body.revision).document.shapes], wanted)
    meanings = {s.name: s.meaning for s in wanted.shapes}
    missing = [WantedOut(name=n, meaning=meanings[n]) for n in found.missing]
    return NamesOut(name=wanted.name, same=found.same, near=found.near, missing=missing, extra=found.extra)


@router.get("/characters/{int:id}/shapes/names.csv")
def export_names(request: HttpRequest, id: int) -> HttpResponse:
    """Our names as a list: name, twin, meaning, example."""
    document, _ = history.load(character_of(id).head)
    names = {s.name for s in document.shapes}
    text = io.StringIO()
    rows = csv.writer(text)
    rows.writerow(["name", "twin", "meaning", "example"])
    for shape in document.shapes:
        twin = other_side(shape.name)
        rows.writerow([shape.name, twin if twin in names else "", shape.label, ""])
    return download(text.getvalue().encode(), f"{document.about.name} shapes", "csv", "text/csv")


@router.post("/characters/{int:id}/shapes/targets", response={200: JobOut, 202: JobOut, **REFUSED})
def take_in_targets(request: HttpRequest, id: int, base: int, files: File[list[UploadedFile]], paths: Form[list[str]] = ()) -> HttpResponse:
    """Targets as shapes, one edit for all of them. `paths` are the files' places in a folder, in their order. The job's result has a
    report on each file."""
    given = uploaded(files, paths)
    return lasting_job(request, "targets", f"Taking in {said_of(given)}", given, revision_of(id, base))


@router.post("/characters/{int:id}/shapes/left", response={200: LeftOut, **REFUSED})
def left_after_taking_out(request: HttpRequest, id: int, body: LeftIn) -> LeftOut:
    """What would be left of taking a pose of the bones out of a shape."""
    rig = rig_of(id, body.revision)
    pose = BonePose(rig.evaluator(), rig.store, checked_values(rig.document, body.values))
    offsets = offsets_of(rig.document, rig.store, find_shape(rig.document, body.shape))
    baked, (_, left) = pose.baked(), pose.taken_out(offsets)
    moved = max((float(np.linalg.norm(baked[n], axis=1).max()) for n in offsets if n in baked), default=0.0)
    return LeftOut(bones=CM_TO_MM * moved, left=CM_TO_MM * max((float(x.max()) for x in left.values()), default=0.0))


@router.post("/characters/{int:id}/sculpt", response=REFUSED)
def sculpt(request: HttpRequest, id: int, body: SculptIn) -> HttpResponse:
    """Msgpack: what some more dabs of a stroke move. Nothing is stored before the edit that holds the whole stroke."""
    return msgpack_answer(painting.paint(rig_of(id, body.revision), body))
