"""What endpoints share: finding what a request speaks of, and answers that are no JSON."""

import re

from characters.models import Character, Draft, Revision
from django.http import Http404, HttpResponse
from django.utils.http import content_disposition_header
from ninja import Schema, UploadedFile
from problems import Problem

from bench.rigs import Rig, rigs

REFUSED = {400: Problem, 404: Problem, 409: Problem, 413: Problem, 422: Problem}


def uploaded(files: list[UploadedFile], paths: list[str] | tuple[str, ...]) -> dict[str, bytes]:
    """Files by their path."""
    names = paths if len(paths) == len(files) else [f.name or "file" for f in files]
    return {name: f.read() for name, f in zip(names, files, strict=True)}


def character_of(id: int) -> Character:
    found = Character.objects.select_related("head__parent", "tip").filter(pk=id).first()
    if found is None:
        raise Http404(f"There is no character {id} on the shelf.")
    return found


def rig_of(id: int, number: int) -> Rig:
    return rigs.find(id, number, lambda: revision_of(id, number))


def rig_of_draft(key: str) -> Rig:
    """The rig of an edit that is tried."""
    found = Draft.objects.filter(key=key).first()
    if found is None:
        raise Http404("What was tried is not kept any more. Try it again.")
    return rigs.tried(found)


def revision_of(id: int, number: int) -> Revision:
    found = Revision.objects.filter(character_id=id, number=number).first()
    if found is None:
        raise Http404(f"Character {id} has no revision {number}.")
    return found


def json_answer(found: Schema, status: int = 200, only: set[str] | None = None) -> HttpResponse:
    """An answer that is as its schema says already, or `only` some of its fields; to be checked once more would take longer than to make
    it."""
    return HttpResponse(found.model_dump_json(include=only), content_type="application/json", status=status)


def msgpack_answer(data: bytes) -> HttpResponse:
    return HttpResponse(data, content_type="application/vnd.msgpack", headers={"Content-Length": str(len(data))})


def download(data: bytes, name: str, ending: str, kind: str) -> HttpResponse:
    """Under its name as RFC 6266 has it."""
    place = content_disposition_header(True, f"{_plain(name)}.{ending}")
    return HttpResponse(data, content_type=kind, headers={"Content-Disposition": place or "attachment"})


def _plain(name: str | None) -> str:
    return re.sub(r"[^\w .-]", "", (name or "").rsplit("/", 1)[-1])[:80].strip(" .") or "character"
