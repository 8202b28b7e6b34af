"""What jobs do, by their kind."""

from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import Any

from characters import history, sweeps
from characters.blobs import BlobStore
from characters.models import Revision
from characters.reports import KEEPER
from django.conf import settings
from django.db import transaction
from jobs.apart import APART
from jobs.models import SWEEP, Job
from jobs.perform import work
from pydantic import TypeAdapter
from tightseam.bake.mouth import bake_errors
from tightseam.body.join import body_for
from tightseam.checkin.report import check_in
from tightseam.document.model import Character as Document
from tightseam.document.progress import part_of_it, tell
from tightseam.edits.registry import Step, make_step
from tightseam.intake.take_in import take_in
from tightseam.intake.take_targets import take_targets
from tightseam.landmarks.seats import proposals
from tightseam.lids.driver_error import driver_errors
from tightseam.mending.mended import MENDINGS
from tightseam.mending.repair_all import ALL_REPAIRED
from tightseam.mix.report import REPORT, mix_key, mix_report
from tightseam.mix.sweep import How
from tightseam.mix.take import TAKE_REPORT
from tightseam.seams.effects import SideEffects, side_effects
from tightseam.tryout.stations import FINDINGS
from tightseam.tryout.tried import compared, strip_readings

from bench import checkin, inbox, made_files, mix_api, packages, recipes_api, takes_api
from bench.requests import revision_of
from bench.schemas import PackageIn, ReplayIn, TryOut

APART |= dict.fromkeys(("import", "targets", "body"), inbox.READING)
FromFiles = tuple[Step | None, dict[str, Any]]  # an edit, and what there is to tell


def _revision(job: Job) -> Revision:
    return revision_of(job.character_id, job.base)


def _step(job: Job) -> Step:
    return make_step(**job.params["step"])


@work("findings")
def _findings(job: Job) -> None:
    FINDINGS[job.params["station"]](*history.load(_revision(job)))


@work("try")
def _try(job: Job) -> None:
    revision, step = _revision(job), _step(job)
    tell(0.0, "Making the edit")
    document, store = history.load(revision)
    draft, changed, scratch = history.draft(revision, step)
    same = [p.vertex_count for p in document.parts] == [p.vertex_count for p in changed.parts]
    found = TryOut(draft=draft.key if same else None, tried=compared(document, store, step, changed, scratch))
    KEEPER.save(job.key, found.model_dump_json().encode())


@work("effects")
def _effects(job: Job) -> None:
    """All poses of a revision against those of another one: what is not measured yet is measured now."""
    sides, documents = [], []
    for k, number in enumerate((job.params["before"], job.base)):
        document, store = history.load(revision_of(job.character_id, number))
        with part_of_it(k / 2, (k + 1) / 2):
            sides.append(strip_readings(document, store))
        documents.append(document)
    KEEPER.save(job.key, TypeAdapter(SideEffects).dump_json(side_effects(documents[1], *sides)))


@work(SWEEP)
def _sweep(job: Job) -> None:
    """Cell by cell, each kept as it comes: what a server that went down had measured is not measured again, nor what an edit left alone."""
    revision = _revision(job)
    document, store = history.load(revision)
    sweep = sweeps.begun(revision, mix_key(document))
    how: How = {"cluster": settings.CLUSTER, "processes": settings.PROCESSES}
    how |= {"before": sweeps.measured_before(sweep), "keep": sweeps.keeping(sweep)}
    report = mix_report(document, store, **how)
    KEEPER.save(sweep.key, REPORT.dump_json(report))
    sweeps.ended(sweep)


@work("take")
def _take(job: Job) -> None:
    KEEPER.save(job.key, TAKE_REPORT.dump_json(takes_api.measure(_revision(job), job.params)))


@work("mendings")
def _mendings(job: Job) -> None:
    KEEPER.save(job.key, MENDINGS.dump_json(mix_api.mend(_revision(job), job.params)))


@work("repair all")
def _repair_all(job: Job) -> None:
    KEEPER.save(job.key, ALL_REPAIRED.dump_json(mix_api.repair(_revision(job))))


@work("replay")
def _replay(job: Job) -> None:
    KEEPER.save(job.key, recipes_api.replayed(_revision(job), ReplayIn(**job.params)).model_dump_json().encode())


@work("check-in")
def _check_in(job: Job) -> None:
    check_in(*history.load(_revision(job)))


@work("preview")
def _preview(job: Job) -> None:
    found = checkin.preview(_revision(job), _step(job))
    KEEPER.save(job.key, found.model_dump_json().encode())


@work("eye proposals")
def _proposals(job: Job) -> None:
    proposals(*history.load(_revision(job)), job.params["side"])


@work("lid drivers")
def _lid_drivers(job: Job) -> None:
    driver_errors(*history.load(_revision(job)), job.params["side"])


@work("bake errors")
def _bake_errors(job: Job) -> None:
    bake_errors(*history.load(_revision(job)))


@work("export")
def _export(job: Job) -> None:
    before = job.params.get("before")
    earlier = None if before is None else revision_of(job.character_id, before)
    made_files.make(_revision(job), job.params["kind"], job.key, earlier)


@work("package")
def _package(job: Job) -> None:
    packages.make(_revision(job), PackageIn(**job.params), job.key)


@work("edit")
def _edit(job: Job) -> dict[str, Any]:
    assert job.character_id is not None
    assert job.base is not None
    stored = history.edit(job.character_id, job.base, _step(job))
    return {"revision": stored.number}


@work("import")
def _import(job: Job) -> dict[str, Any]:
    if job.result is not None:  # it was all but done when the server went down
        return job.result
    with inbox.files_of(job) as files:
        store = BlobStore()
        with part_of_it(0.0, 0.8):
            taken = take_in(files, store)
        with part_of_it(0.8, 1.0):
            check_in(taken.character, store)

        def put_on_the_shelf() -> dict[str, Any]:
            character = history.create(taken.character, store, f"Added {', '.join(sorted(files))}")
            return {"character": character.pk, "name": character.name, "notes": list(taken.notes)}

        return _once(job, put_on_the_shelf)


@work("targets")
def _targets(job: Job) -> dict[str, Any]:
    def taken(document: Document, files: Mapping[str, bytes], store: BlobStore) -> FromFiles:
        shapes, reports = take_targets(document, files, store)
        step = make_step("shape.take_in", {"shapes": shapes}) if shapes else None
        return step, {"reports": [asdict(r) for r in reports]}

    return _edit_by_files(job, taken)


@work("body")
def _body(job: Job) -> dict[str, Any]:
    def joined(document: Document, files: Mapping[str, bytes], store: BlobStore) -> FromFiles:
        found = body_for(document, take_in(files, store).character, store)
        params = {name: getattr(found, name) for name in ("parts", "bones", "bindings", "under", "shift")}
        return make_step("body.join", params), {"notes": list(found.notes)}

    return _edit_by_files(job, joined)


def _edit_by_files(job: Job, read: Callable[[Document, Mapping[str, bytes], BlobStore], FromFiles]) -> dict[str, Any]:
    """Does the edit that `read` makes of files for a head, if it makes one, and gives what it tells of them."""
    number, base = job.character_id, job.base
    assert number is not None
    assert base is not None
    if job.result is not None:
        return job.result
    with inbox.files_of(job) as files:
        store = BlobStore()
        step, told = read(history.load(_revision(job))[0], files, store)

        def edit() -> dict[str, Any]:
            if step is not None:
                history.edit(number, base, step, store)
            return told

        return _once(job, edit)


def _once(job: Job, do: Callable[[], dict[str, Any]]) -> dict[str, Any]:
    """Does what a lasting job is about in one transaction with its result: it is done once, even where a process that was taken for dead
    is still at it."""
    with transaction.atomic():
        done = Job.objects.values_list("result", flat=True).get(pk=job.pk)
        if done is None:
            done = do()
            Job.objects.filter(pk=job.pk).update(result=done)
        return done
