"""Sweeps of characters, as far as they have come."""

from collections.abc import Callable, Sequence

from django.db import transaction
from django.utils import timezone
from pydantic import TypeAdapter, ValidationError
from tightseam.document.model import Character as Document
from tightseam.mix.cell import Cell
from tightseam.mix.intended import with_intended
from tightseam.mix.report import REPORT, MixReport
from tightseam.mix.sweeper import CellResult

from characters.models import Revision, Sweep, SweptCells
from characters.reports import KEEPER

RESULTS = TypeAdapter(list[CellResult])


def begun(revision: Revision, key: str) -> Sweep:
    """The sweep of a state, as far as it has come."""
    return Sweep.objects.get_or_create(character_id=revision.character_id, key=key, defaults={"revision": revision.number})[0]


def measured_before(sweep: Sweep) -> dict[Cell, CellResult]:
    """What was measured of the character so far, by this sweep or by earlier ones."""
    found: dict[Cell, CellResult] = {}
    earlier = SweptCells.objects.filter(sweep__character_id=sweep.character_id)
    for cells in [*earlier.exclude(sweep=sweep).order_by("pk"), *sweep.cells.order_by("pk")]:
        found |= {result.cell: result for result in RESULTS.validate_json(bytes(cells.data))}
    return found


def cells_of(key: str) -> dict[Cell, CellResult]:
    """What a sweep that came to its end measured, of whichever character that is alike; nothing where others have taken its place."""
    sweep = Sweep.objects.filter(key=key, ended__isnull=False).first()
    kept = [] if sweep is None else sweep.cells.order_by("pk")
    return {result.cell: result for cells in kept for result in RESULTS.validate_json(bytes(cells.data))}


def keeping(sweep: Sweep) -> Callable[[Sequence[CellResult]], None]:
    """Keeps results as they come."""

    def keep(results: Sequence[CellResult]) -> None:
        SweptCells.objects.create(sweep=sweep, data=RESULTS.dump_json(list(results)))

    return keep


def ended(sweep: Sweep) -> None:
    """The sweep is done; those before it are not asked for any more."""
    with transaction.atomic():
        Sweep.objects.filter(character_id=sweep.character_id).exclude(pk=sweep.pk).delete()
        Sweep.objects.filter(pk=sweep.pk).update(ended=timezone.now())


def report_under(key: str, document: Document) -> MixReport | None:
    """The report that is kept under a key, with what the document calls intended told apart; None for one of an earlier version too."""
    data = KEEPER.load(key)
    if data is None:
        return None
    try:
        return with_intended(REPORT.validate_json(data), document.intended)
    except ValidationError:
        return None


def last_ended(character: int) -> Sweep | None:
    """The newest sweep of a character that came to its end."""
    return Sweep.objects.filter(character_id=character, ended__isnull=False).order_by("-ended").first()
