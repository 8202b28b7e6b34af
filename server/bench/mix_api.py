"""Every expression on every other: asking for a sweep, and what came of it."""

from collections.abc import Mapping

from characters import history, sweeps
from characters.models import Revision
from characters.reports import KEEPER
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from jobs.asking import ask, settled
from jobs.models import SWEEP, Job
from ninja import Router
from pydantic import TypeAdapter
from tightseam.correctives.woken import Woken, woken
from tightseam.deform.skeleton import checked_values
from tightseam.document.errors import BadRequest
from tightseam.document.kept import kept_key
from tightseam.document.mix_model import Intended
from tightseam.document.progress import part_of_it
from tightseam.mending.mended import mendings as core_mendings
from tightseam.mending.mending import Mending
from tightseam.mending.repair_all import AllRepaired, repaired
from tightseam.mending.swept import Swept
from tightseam.mix.compare import MixChange, changes
from tightseam.mix.intended import as_intended
from tightseam.mix.report import REPORT, SWEPT, BoardCause, MixReport, mix_key
from tightseam.mix.sweep import sweep as core_sweep
from tightseam.seams.cut import cut_at

from bench.mix_pages import swept
from bench.requests import REFUSED, json_answer, revision_of, rig_of
from bench.schemas import JobOut, LineOut, MendIn, MixOut, PlaceCutIn, SweepIn
from bench.waiting import AT_ONCE, asker, report_or_job

router = Router()
CHANGES = TypeAdapter(list[MixChange])


@router.get("/characters/{int:id}/mix", response={200: MixOut, **REFUSED})
def mix(request: HttpRequest, id: int, revision: int) -> HttpResponse:
    """The report on a revision, or where it has none that on the last one that was swept; and the sweep that is going on."""
    document = history.load(revision_of(id, revision))[0]
    going = Job.objects.filter(kind=SWEEP, character_id=id, state__in=Job.GOING, stop_asked=False).first()
    report, of, last = sweeps.report_under(mix_key(document), document), revision, sweeps.last_ended(id)
    if report is None and last is not None:
        report, of = sweeps.report_under(last.key, document), last.revision
    found = MixOut.model_construct(
        report=report,
        revision=of if report else None,
        fresh=report is not None and of == revision,
        job=None if going is None else JobOut.from_orm(going),
    )
    return json_answer(found)


@router.get("/characters/{int:id}/mix/since/{int:before}", response={200: list[MixChange], **REFUSED})
def since(request: HttpRequest, id: int, before: int, revision: int) -> HttpResponse:
    """What a revision has new, worse, better and no more against an earlier one. Both have to be swept."""
    reports = [swept(history.load(revision_of(id, number))[0], f"Revision {number}") for number in (before, revision)]
    return HttpResponse(CHANGES.dump_json(changes(*reports)), content_type="application/json")


@router.get("/characters/{int:id}/mix/as-intended", response={200: Intended, **REFUSED})
def intended(request: HttpRequest, id: int, revision: int, cause: int) -> Intended:
    """A cause of the board of a revision as it is called intended: what the edit of that name takes. The reason is left out."""
    report = swept(history.load(revision_of(id, revision))[0], f"Revision {revision}")
    return as_intended(report, _cause(report, cause), "")


@router.post("/characters/{int:id}/mix/mendings", response={200: list[Mending], 202: JobOut, **REFUSED})
def mendings(request: HttpRequest, id: int, body: MendIn) -> HttpResponse:
    """What would put a cause of the board right, each way tried and measured over the whole sweep and all test poses. Nothing is stored."""
    revision = revision_of(id, body.revision)
    document = history.load(revision)[0]
    report = swept(document, f"Revision {body.revision}")
    findings = _cause(report, body.cause).findings
    key = kept_key("mendings", document, SWEPT, findings)
    title = f"Looking for what puts right: {report.findings[findings[0]].title}"
    return report_or_job(request, "mendings", title, key, revision, body.model_dump())


def mend(revision: Revision, asked: Mapping[str, object]) -> list[Mending]:
    """The ways to put right a cause that was asked for."""
    body = MendIn.model_validate(asked)
    with part_of_it(0.0, 0.4):
        before = _swept_with_cells(revision)
    with part_of_it(0.4, 1.0):
        return core_mendings(before, _cause(before.report, body.cause))


@router.post("/characters/{int:id}/mix/repair-all", response={200: AllRepaired, 202: JobOut, **REFUSED})
def repair_all(request: HttpRequest, id: int, body: SweepIn) -> HttpResponse:
    """What puts right all causes of the board of a revision, one after the other, as far as it harms nothing. Nothing is stored."""
    revision = revision_of(id, body.revision)
    document = history.load(revision)[0]
    swept(document, f"Revision {body.revision}")
    key = kept_key("repair all", document, (*SWEPT, "intended"))  # which is left as it is
    return report_or_job(request, "repair all", "Repairing all causes", key, revision)


def repair(revision: Revision) -> AllRepaired:
    """All causes of a revision put right in a draft of it, whose sweep is kept: the board has it once these repairs are made."""
    with part_of_it(0.0, 0.2):
        before = _swept_with_cells(revision)
    with part_of_it(0.2, 1.0):
        found, after = repaired(before, processes=settings.PROCESSES)
    KEEPER.save(mix_key(after.character), REPORT.dump_json(after.report))
    return found


def _swept_with_cells(revision: Revision) -> Swept:
    """A revision with the report of its sweep, which has to be there, and all that this tells of."""
    document, store = history.load(revision)
    report = swept(document, f"Revision {revision.number}")
    cells = sweeps.cells_of(mix_key(document))
    if not cells:  # the report is kept longer than what it tells of
        cells = {c.cell: c for c in core_sweep(document, store, processes=settings.PROCESSES).cells}
    return Swept(document, store, report, cells)


def _cause(report: MixReport, number: int) -> BoardCause:
    """A cause of the board by its number."""
    if not 0 <= number < len(report.causes):
        raise BadRequest("The sweep has no such cause.")
    return report.causes[number]


@router.get("/characters/{int:id}/correctives/woken", response={200: list[Woken], **REFUSED})
def brought_in(request: HttpRequest, id: int, revision: int, name: str) -> list[Woken]:
    """What brings a corrective in beside the mix that it is for."""
    return woken(*history.load(revision_of(id, revision)), name)


@router.post("/characters/{int:id}/cut", response={200: list[LineOut], **REFUSED})
def cut(request: HttpRequest, id: int, body: PlaceCutIn) -> list[LineOut]:
    """A flat cut through a vertex of the posed head: points (outwards, up) in mm about it."""
    rig = rig_of(id, body.revision)
    lines = cut_at(rig.evaluator(), body.part, body.vertex, checked_values(rig.document, body.values, overdrive=True))
    kinds = {p.name: p.kind for p in rig.document.parts}
    return [LineOut(part=line.part, kind=kinds[line.part], points=line.points.round(3).tolist()) for line in lines]


@router.post("/characters/{int:id}/sweep", response={202: JobOut, **REFUSED})
def sweep(request: HttpRequest, id: int, body: SweepIn) -> HttpResponse:
    """Sweep a revision. It goes on though nobody waits for it, and though the server is started anew meanwhile."""
    revision = revision_of(id, body.revision)
    key = f"s{mix_key(history.load(revision)[0])[1:]}"  # of the job, not of its report
    job = ask(SWEEP, "Sweeping all expressions", key, asker(request), revision=revision, lasting=True)
    return json_answer(JobOut.from_orm(settled(job, AT_ONCE)), status=202)
