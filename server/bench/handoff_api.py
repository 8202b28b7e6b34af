"""Files out."""

from typing import Literal

from characters import history
from django.http import Http404, HttpRequest, HttpResponse
from jobs.asking import ask
from ninja import File, Router, UploadedFile
from tightseam.demo.body import body_stand_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.lookup import part as find_part
from tightseam.exchange.character_file import write_character
from tightseam.exchange.obj_write import write_obj
from tightseam.findings.finding import Finding
from tightseam.handoff.offences import offences
from tightseam.handoff.profile import SHIPPED, shipped_profile

from bench import made_files, packages
from bench.requests import REFUSED, character_of, download, revision_of, uploaded
from bench.schemas import JobOut, LeftOutOut, OffencesIn, PackageIn, PackageOut, ProfileOut
from bench.waiting import asker, done_or_job, lasting_job, said_of

router = Router()
Kind = Literal["obj", "usd", "glb", "seam", "mix"]
STAND_IN = "the stand-in.seam"
SAID = {"mix": "the report"}
TYPES = {
    "obj": ("obj", "model/obj"),
    "usd": ("usdc", "model/vnd.usd"),
    "glb": ("glb", "model/gltf-binary"),
    "seam": ("seam", "application/zip"),
    "mix": ("html", "text/html"),
}


@router.get("/characters/{int:id}/parts/{part}.obj", response=REFUSED)
def export_part(request: HttpRequest, id: int, part: str) -> HttpResponse:
    """The mesh of one part as it stands, in the delivered order and unit."""
    document, store = history.load(character_of(id).head)
    return download(write_obj(document, store, [find_part(document, part)]), f"{document.about.name} {part}", "obj", "model/obj")


@router.get("/profiles", response=list[ProfileOut])
def profiles(request: HttpRequest) -> list[ProfileOut]:
    """The profiles of receivers that ship with the application."""
    found = (shipped_profile(key) for key in SHIPPED)
    return [ProfileOut(name=p.name, label=p.label, story=p.story) for p in found]


@router.post("/characters/{int:id}/offences", response={200: list[Finding], **REFUSED})
def find_offences(request: HttpRequest, id: int, body: OffencesIn) -> list[Finding]:
    """What of a revision offends the limits of a receiver."""
    return offences(*history.load(revision_of(id, body.revision)), packages.profile_of(body.profile, body.own))


@router.post("/characters/{int:id}/packages", response={200: PackageOut, 202: JobOut, **REFUSED})
def make_package(request: HttpRequest, id: int, body: PackageIn) -> HttpResponse | PackageOut:
    """What the receiver of a revision gets, and how far what arrives is from what was made here."""
    revision = revision_of(id, body.revision)
    key = packages.key_of(revision, body)
    if packages.found(key) is None:
        going = done_or_job(ask("package", "Packing", key, asker(request), revision=revision, params=body.dict()))
        if going is not None:
            return going
    made = packages.found(key)
    assert made is not None
    return made


@router.get("/characters/{int:id}/packages/{key}.zip", response=REFUSED)
def save_package(request: HttpRequest, id: int, key: str) -> HttpResponse:
    """A package that was made, as a zip."""
    data = made_files.found(key) if packages.is_key(key) else None
    if data is None:
        raise Http404(packages.GONE)
    return download(data, f"{history.load(character_of(id).head)[0].about.name} package", "zip", "application/zip")


@router.post("/characters/{int:id}/body", response={200: JobOut, 202: JobOut, **REFUSED})
def join_body(request: HttpRequest, id: int, base: int, files: File[list[UploadedFile]] = ()) -> HttpResponse:
    """A body for the head, from a file with a skeleton; without one the stand-in that ships. One edit; the job's result has notes on it."""
    given = uploaded(files, ()) if files else {STAND_IN: _stand_in()}
    return lasting_job(request, "body", f"Joining {said_of(given)}", given, revision_of(id, base))


def _stand_in() -> bytes:
    store = MemoryStore()
    return write_character(body_stand_in("", store), store)


@router.get("/characters/{int:id}/left-out/{kind}", response={200: list[LeftOutOut], **REFUSED})
def left_out(request: HttpRequest, id: int, kind: Literal["usd", "glb"]) -> list[LeftOutOut]:
    """In which test poses a file that was made is right only by a target of their own, the worst first."""
    found = made_files.left_out(character_of(id).head, kind)
    if found is None:
        raise Http404("No such file was made of what is on the bench now. Export it again.")
    return found


@router.get("/characters/{int:id}/export.{kind}", response={202: JobOut, **REFUSED})
def export(request: HttpRequest, id: int, kind: Kind, before: int | None = None) -> HttpResponse:
    """The character as a file: meshes in the delivered order and unit, or all that the format holds; `mix` is the report of its sweep,
    side by side with that of the revision `before`, if one is given."""
    head = character_of(id).head
    earlier = None if before is None else revision_of(id, before)
    key = made_files.key_of(head, kind, earlier)
    if made_files.found(key) is None:
        going = done_or_job(
            ask(
                "export",
                f"Writing {SAID.get(kind, kind.upper())}",
                key,
                asker(request),
                revision=head,
                params={"kind": kind, "before": before},
            )
        )
        if going is not None:
            return going
    data = made_files.found(key)
    assert data is not None
    document, _ = history.load(head)
    return download(data, document.about.name, *TYPES[kind])
