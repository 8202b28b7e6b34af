"""The Lids station through HTTP: the board, and where the margins of each eye lie."""

from dataclasses import asdict, replace

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field
from tightseam.deform.curves import compile_curve
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.lids import LidTurning
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character as Document
from tightseam.document.model import CurveKey, GazeFollow, LidDriver, Side
from tightseam.edits.lid_edits import SetClosedLine, SetGazeFollow
from tightseam.lids.board import Cell, LidBoard
from tightseam.lids.cut import lid_cut
from tightseam.lids.driver_error import DriverError, driver_errors
from tightseam.lids.repairs import Lid
from tightseam.lids.tune import lids_of, with_lids

from bench.requests import REFUSED, revision_of, rig_of
from bench.rigs import Rig
from bench.schemas import JobOut
from bench.waiting import remembered_or_job

FARTHEST_DRAWN = 40  # degrees of gaze

router = Router()


class TriedLine(Schema):
    """A closed line that is being drawn."""

    side: Side
    keys: list[CurveKey] = Field(min_length=1, max_length=64)
    mirror: bool = False


class TriedFollow(Schema):
    """How a lid follows the gaze, while that is being drawn."""

    side: Side
    lid: Lid
    follow: GazeFollow
    mirror: bool = False


class BoardIn(Schema):
    """Values of controls that act on the skin beside the lids; with `line` or `follow` the board of what is not stored yet."""

    revision: int
    values: dict[str, float] = Field(default={}, max_length=1000)
    line: TriedLine | None = None
    follow: TriedFollow | None = None
    exact: bool = Field(default=False, description="by the mesh of the eye in place of a table of how far it reaches")


class FollowOut(Schema):
    """How a lid follows the gaze: its keys, and each of its curves as degrees with what it gives there."""

    keys: GazeFollow
    height: list[tuple[float, float]]
    across: list[tuple[float, float]]
    slide: list[tuple[float, float]]


class EyeLidsOut(Schema):
    """The lids of an eye in the neutral: both margins as places from the inner corner (0) to the outer (1) and degrees about the axis
    through them, and the closed line by its keys and as places and degrees."""

    side: Side
    skin: str
    eye: str
    keys: list[CurveKey]
    upper: list[tuple[float, float]]
    lower: list[tuple[float, float]]
    line: list[tuple[float, float]]
    follow: dict[Lid, FollowOut]
    driver: LidDriver


class BoardOut(Schema):
    closings: list[float]
    gazes: list[tuple[float, float]]
    cells: list[Cell]
    eyes: list[EyeLidsOut]


@router.post("/characters/{int:id}/lids/board", response={200: BoardOut, **REFUSED})
def lid_board(request: HttpRequest, id: int, body: BoardIn) -> BoardOut:
    """Every closing of the lids against every gaze."""
    rig = rig_of(id, body.revision)
    values = checked_values(rig.document, body.values)
    document = rig.document
    if body.exact or body.line is not None or body.follow is not None:
        document, board = _tried(rig, body)
        measured = board.measure(values, exact=body.exact)
    else:
        with rig.lid_board() as board:
            measured = board.measure(values)
    return BoardOut(
        closings=list(measured.closings),
        gazes=list(measured.gazes),
        cells=[asdict(c) for c in measured.cells],
        eyes=[_eye(document, board.evaluator, k) for k in range(len(document.lids))],
    )


@router.get("/characters/{int:id}/lids/drivers", response={200: list[DriverError], 202: JobOut, **REFUSED})
def lid_drivers(request: HttpRequest, id: int, revision: int, side: Side) -> HttpResponse:
    """How far an eye's lids would be from the arc, for each number of in-betweens and for bones."""
    title = "Measuring what can stand in for the arc"
    return remembered_or_job(request, "lid drivers", title, driver_errors, revision_of(id, revision), {"side": side})


class LidCutIn(Schema):
    """A place from the inner (0) to the outer corner (1) of an eye, and the pose."""

    revision: int
    side: Side
    at: float = Field(ge=0, le=1)
    values: dict[str, float] = Field(default={}, max_length=1000)


class LidCutOut(Schema):
    """Lines of the skin and of the eye, forward and up about the eye's centre, mm; where the skin is nearest to the eye or deepest in it,
    and by how much, negative where it overlaps."""

    skin: list[list[tuple[float, float]]]
    eye: list[list[tuple[float, float]]]
    contact: tuple[float, float]
    clearance: float


@router.post("/characters/{int:id}/lids/section", response={200: LidCutOut, **REFUSED})
def lid_section(request: HttpRequest, id: int, body: LidCutIn) -> LidCutOut:
    """A flat cut through the lids of an eye."""
    rig = rig_of(id, body.revision)
    values = checked_values(rig.document, body.values)
    found = lid_cut(rig.evaluator(), body.side, body.at, values)
    skin, eye = ([line.round(3).tolist() for line in lines] for lines in (found.skin, found.eye))
    return LidCutOut(skin=skin, eye=eye, contact=found.contact.round(3).tolist(), clearance=found.clearance)


def _tried(rig: Rig, body: BoardIn) -> tuple[Document, LidBoard]:
    """The document with what is being drawn, with the swell that it has already: the edit finds what it needs then. The board has an
    evaluator of its own, so that the stage need not wait for it."""
    document = rig.document
    if body.line is not None:
        step = SetClosedLine(side=body.line.side, keys=tuple(body.line.keys), mirror=body.line.mirror)
        for side in step.sides(document):
            document = with_lids(document, replace(lids_of(document, side), line=step.line_keys()))
    store = MemoryStore(rig.store)
    if body.follow is not None:
        tried = body.follow
        document = SetGazeFollow(side=tried.side, lid=tried.lid, follow=tried.follow, mirror=tried.mirror).apply(document, store)
    return document, LidBoard(document, store, Evaluator(document, store))


def _eye(document: Document, evaluator: Evaluator, k: int) -> EyeLidsOut:
    pair, compiled = document.lids[k], evaluator.rig.lids[k]
    turning, rest = compiled.turning, evaluator.meshes.rest.astype(float)
    upper, lower = (_placed(turning, rest[margin]) for margin in turning.margins)
    at = np.linspace(0, 1, 41)
    line = np.interp(at, np.linspace(0, 1, turning.closed.shape[1]), turning.closed.mean(axis=0))
    return EyeLidsOut(
        side=pair.side,
        skin=pair.skin,
        eye=pair.eye,
        keys=list(pair.line),
        upper=upper,
        lower=lower,
        follow={"upper": _follow(pair.follow_upper), "lower": _follow(pair.follow_lower)},
        driver=pair.driver,
        line=list(zip(at.tolist(), np.degrees(line).tolist(), strict=True)),
    )


def _placed(turning: LidTurning, points: np.ndarray) -> list[tuple[float, float]]:
    at, angle = turning.arc.place(points)
    return list(zip(at.tolist(), np.degrees(angle).tolist(), strict=True))


def _follow(keys: GazeFollow) -> FollowOut:
    degrees = np.arange(-FARTHEST_DRAWN, FARTHEST_DRAWN + 1.0)
    curves = (compile_curve(x)(degrees) for x in (keys.height, keys.across, keys.slide))
    height, across, slide = (list(zip(degrees.tolist(), np.broadcast_to(y, degrees.shape).tolist(), strict=True)) for y in curves)
    return FollowOut(keys=keys, height=height, across=across, slide=slide)
