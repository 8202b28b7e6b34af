"""Characters as the screens list them."""

from datetime import timedelta

from characters import reports
from characters.history import load
from characters.models import Character, Revision
from django.db import OperationalError
from problems import unforeseen
from pydantic import TypeAdapter
from tightseam.document.cache import OfThings
from tightseam.document.errors import TightSeamError
from tightseam.document.kept import kept_key
from tightseam.document.model import Character as Document
from tightseam.document.poses import shown_poses
from tightseam.document.sections import MEASURED
from tightseam.findings.finding import Finding
from tightseam.findings.sizes import said_size
from tightseam.seams.pose_report import PoseReport, pose_key

from bench import checkin
from bench.schemas import (
    CheckInShort,
    DamagedEntry,
    LatelyOut,
    RevisionOut,
    ShelfEntry,
    TakenOffOut,
    WorstOut,
)

_OF_THINGS = OfThings()
POSE_REPORT = TypeAdapter(PoseReport)
LATELY = 5
KEPT = timedelta(days=30)  # that what was taken off the shelf is there at least
DRAWN = tuple(name for name in MEASURED if name != "seams")  # sections that show in a picture of the head


def revision_out(revision: Revision) -> RevisionOut:
    parent = revision.parent.number if revision.parent else None
    return RevisionOut(number=revision.number, parent=parent, text=revision.text, edit=revision.edit)


def shelf() -> list[ShelfEntry | DamagedEntry]:
    """All characters, in the order in which they came. One that cannot be opened says so and takes nobody else away."""
    on_it = Character.objects.filter(taken_off=None).select_related("head__parent")
    return [_entry_or_damage(c) for c in on_it.order_by("pk")]


def taken_off() -> list[TakenOffOut]:
    """What was taken off the shelf and is still there, the newest first."""
    found = Character.objects.exclude(taken_off=None).order_by("-taken_off")
    return [TakenOffOut(id=c.pk, name=c.name, when=c.taken_off, until=c.taken_off + KEPT) for c in found]


def _entry_or_damage(character: Character) -> ShelfEntry | DamagedEntry:
    try:
        return shelf_entry(character)
    except TightSeamError as error:
        return DamagedEntry(id=character.pk, name=character.name, damage=str(error))
    except OperationalError:  # the database is busy: no character is damaged by that
        raise
    except Exception:
        return DamagedEntry(id=character.pk, name=character.name, damage=unforeseen(f"the shelf entry of character {character.pk}"))


def lately() -> list[LatelyOut]:
    """What was done last, to whomever, the newest first."""
    on_it = Revision.objects.filter(character__taken_off=None)
    found = on_it.select_related("character").order_by("-created", "-pk")[:LATELY]
    return [LatelyOut(character=r.character_id, name=r.character.name, number=r.number, text=r.text, when=r.created) for r in found]


def _excess(finding: Finding) -> float:
    return finding.size / (finding.limit or 1.0)


def shelf_entry(character: Character) -> ShelfEntry:
    document, _ = load(character.head)
    poses = shown_poses(document)
    keys = {pose_key(document, p) for p in poses}
    found = [POSE_REPORT.validate_json(data) for data in reports.kept(keys).values()]
    worst: dict[str, Finding] = {}
    for finding in (f for report in found for f in report.findings):
        if finding.about not in worst or _excess(finding) > _excess(worst[finding.about]):
            worst[finding.about] = finding
    first = max(worst.values(), key=_excess, default=None)
    return ShelfEntry(
        id=character.pk,
        name=document.about.name,
        story=document.about.story,
        revision=revision_out(character.head),
        parts=len(document.parts),
        vertices=sum(p.vertex_count for p in document.parts),
        measured=len(found) == len(keys),
        findings=len(worst),
        worst=first and WorstOut(title=first.title, text=first.text, kind=first.kind, said=said_size(first.size, first.unit)),
        poses=len(poses),
        checkin=_checkin_short(character.head),
        drawn=drawn(document),
    )


def drawn(document: Document) -> str:
    """Changes whenever the head may look otherwise in any pose."""
    return kept_key("drawn", document, DRAWN)


def _checkin_short(revision: Revision) -> CheckInShort:
    found = checkin.report(revision)
    first = next((c for c in found.checks if c.verdict != "fine" and c.waived is None), None)
    return CheckInShort(faults=found.faults, looks=found.looks, first=first and first.label, said=first and first.said)
