"""Selections, weights and the brush through HTTP."""

from characters import history
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile
from tightseam.exchange.weights_csv import Match, write_weights_csv

from bench import selections
from bench.character_out import change_answer
from bench.painting import painting
from bench.requests import REFUSED, character_of, download, msgpack_answer, rig_of
from bench.schemas import CharacterChange
from bench.weight_schemas import (
    IslandOut,
    PaintIn,
    SelectIn,
    SelectionIn,
    SelectionOut,
    SelectOut,
    TableIn,
    TableOut,
)

router = Router()


@router.post("/characters/{int:id}/select", response={200: SelectOut, **REFUSED})
def select(request: HttpRequest, id: int, body: SelectIn) -> SelectOut:
    """A selection of vertices, changed."""
    return selections.changed(rig_of(id, body.revision), body)


@router.post("/characters/{int:id}/selection", response={200: SelectionOut, **REFUSED})
def selection(request: HttpRequest, id: int, body: SelectionIn) -> SelectionOut:
    """What carries a selection."""
    return selections.summary(rig_of(id, body.revision), body)


@router.post("/characters/{int:id}/paint", response=REFUSED)
def paint(request: HttpRequest, id: int, body: PaintIn) -> HttpResponse:
    """Msgpack: what some more dabs of a stroke change. Nothing is stored before the edit that holds the whole stroke."""
    return msgpack_answer(painting.paint(rig_of(id, body.revision), body))


@router.get("/characters/{int:id}/islands", response={200: list[IslandOut], **REFUSED})
def part_islands(request: HttpRequest, id: int, revision: int, part: str) -> list[IslandOut]:
    """What carries each island of a part."""
    return selections.islands_of(rig_of(id, revision), part)


@router.post("/characters/{int:id}/weights/table", response={200: TableOut, **REFUSED})
def weight_rows(request: HttpRequest, id: int, body: TableIn) -> TableOut:
    """The weights of some vertices, bone by bone."""
    return selections.table(rig_of(id, body.revision), body)


@router.post("/characters/{int:id}/weights.csv", response={200: CharacterChange, **REFUSED})
def import_weights(request: HttpRequest, id: int, base: int, part: str, match: Match, file: File[UploadedFile]) -> HttpResponse:
    """Give a part the weights of a CSV table, matched by vertex number or by position."""
    history.edit(id, base, selections.read_table(rig_of(id, base), file.read(), part, match))
    return change_answer(character_of(id), rig_of(id, base).document)


@router.get("/characters/{int:id}/weights.csv")
def export_weights(request: HttpRequest, id: int, part: str) -> HttpResponse:
    document, store = history.load(character_of(id).head)
    return download(write_weights_csv(document, store, part), f"{document.about.name} {part} weights", "csv", "text/csv")
