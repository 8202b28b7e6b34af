"""The Lids station through HTTP: the board, and where the margins of each eye lie."""

from dataclasses import asdict, replace

import numpy as np
from ninja import Router, Schema
from pydantic import Field
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.lids import LidTurning
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character as Document
from tightseam.document.model import CurveKey, Side
from tightseam.edits.lid_edits import SetClosedLine
from tightseam.lids.board import Cell, LidBoard
from tightseam.lids.tune import lids_of, with_lids

from bench.requests import REFUSED, rig_of
from bench.rigs import Rig

router = Router()


class TriedLine(Schema):
    """A closed line that is being drawn."""

    side: Side
    keys: list[CurveKey] = Field(min_length=1, max_length=64)
    mirror: bool = False


class BoardIn(Schema):
    """Values of controls that act on the skin beside the lids; with `line` the board of a line that is not stored yet."""

    revision: int
    values: dict[str, float] = Field(default={}, max_length=1000)
    line: TriedLine | None = None


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


class BoardOut(Schema):
    closings: list[float]
    gazes: list[tuple[float, float]]
    cells: list[Cell]
    eyes: list[EyeLidsOut]


@router.post("/characters/{int:id}/lids/board", response={200: BoardOut, **REFUSED})
def lid_board(request, id: int, body: BoardIn):
    """Every closing of the lids against every gaze."""
    rig = rig_of(id, body.revision)
    values = checked_values(rig.document, body.values)
    with rig.lock:
        document, board = rig.document, rig.lid_board()
        if body.line is not None:
            document, board = _tried(rig, body.line)
        measured = board.measure(values)
    return BoardOut(
        closings=list(measured.closings),
        gazes=list(measured.gazes),
        cells=[asdict(c) for c in measured.cells],
        eyes=[_eye(document, board.evaluator, k) for k in range(len(document.lids))],
    )


def _tried(rig: Rig, line: TriedLine) -> tuple[Document, LidBoard]:
    """The document with a line that is being drawn, with the swell that it has already: the edit finds what it needs then."""
    step = SetClosedLine(side=line.side, keys=tuple(line.keys), mirror=line.mirror)
    document = rig.document
    for side in step.sides(document):
        document = with_lids(document, replace(lids_of(document, side), line=step.checked_keys()))
    store = MemoryStore(rig.store)
    return document, LidBoard(document, store, Evaluator(document, store, rig.kept))


def _eye(document: Document, evaluator: Evaluator, k: int) -> EyeLidsOut:
    pair, compiled = document.lids[k], evaluator.lids[k]
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
        line=list(zip(at.tolist(), np.degrees(line).tolist(), strict=True)),
    )


def _placed(turning: LidTurning, points: np.ndarray) -> list[tuple[float, float]]:
    at, angle = turning.arc.place(points)
    return list(zip(at.tolist(), np.degrees(angle).tolist(), strict=True))
