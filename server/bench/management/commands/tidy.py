"""Drop what nothing speaks of any more: data blocks that no revision names, reports on what is no longer there, drafts, jobs that ended,
and characters that were taken off the shelf a month ago."""

import re
from collections.abc import Iterator
from typing import Any

from characters.history import load
from characters.models import Blob, Character, Draft, Report, Revision
from django.core.management.base import BaseCommand, CommandParser
from django.db import connection, transaction
from django.db.models import QuerySet, Sum
from django.db.models.functions import Length
from django.utils import timezone
from django_tasks_db.models import DBTaskResult
from jobs.models import Job
from tightseam.checkin.report import check_in
from tightseam.document.errors import TightSeamError
from tightseam.seams.pose_report import pose_key
from tightseam.tryout.stations import FINDINGS

from bench.summary import KEPT

BATCH = 500
HASH = re.compile(rb'"([0-9a-f]{64})"')


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--dry-run", action="store_true", help="say what would be dropped, and drop nothing")

    def handle(self, *args: str, **options: Any) -> None:
        dry = options["dry_run"]
        with transaction.atomic():
            gone = Character.objects.filter(taken_off__lt=timezone.now() - KEPT)
            names = ", ".join(gone.values_list("name", flat=True))
            if not dry:
                _let_go(gone)
            blobs = set(Blob.objects.values_list("hash", flat=True)) - _named()
            reports = set(Report.objects.values_list("key", flat=True)) - _keys()
            size = sum(Blob.objects.filter(hash__in=some).aggregate(size=Sum(Length("data")))["size"] or 0 for some in batched(blobs))
            if not dry:
                for some in batched(blobs):
                    Blob.objects.filter(hash__in=some).delete()
                for some in batched(reports):
                    Report.objects.filter(key__in=some).delete()
                Draft.objects.all().delete()  # their blobs are named by nothing else
                Job.objects.exclude(state__in=Job.GOING).delete()
                DBTaskResult.objects.finished().delete()
        if not dry:
            compact()
        did = "Would drop" if dry else "Dropped"
        if names:
            self.stdout.write(f"{did} what was taken off the shelf over {KEPT.days} days ago: {names}.")
        self.stdout.write(f"{did} {len(blobs)} data blocks ({size / 1e6:.1f} MB) and {len(reports)} reports.")


def _let_go(gone: QuerySet[Character]) -> None:
    """Characters with their histories; none of their revisions may hold another."""
    numbers = list(gone.values_list("pk", flat=True))
    gone.update(head=None, tip=None)
    Revision.objects.filter(character_id__in=numbers).update(parent=None)
    Character.objects.filter(pk__in=numbers).delete()


def compact() -> None:
    """Give what was freed back to the disk."""
    with connection.cursor() as cursor:
        cursor.execute("VACUUM")


def batched(keys: set[str]) -> Iterator[list[str]]:
    """Lists short enough for one query."""
    ordered = sorted(keys)
    return (ordered[k : k + BATCH] for k in range(0, len(ordered), BATCH))


def _named() -> set[str]:
    """The hashes of all sections of all revisions, and of all arrays these speak of."""
    sections = {key for of in Revision.objects.values_list("sections", flat=True) for key in of.values()}
    arrays = set()
    for data in Blob.objects.filter(kind="section", hash__in=sections).values_list("data", flat=True).iterator():
        arrays |= {found.decode() for found in HASH.findall(bytes(data))}
    return sections | arrays


def _keys() -> set[str]:
    """The keys of all reports that a revision asks for by itself. Of a damaged revision none can be told; its reports go."""
    keys = set()
    for revision in Revision.objects.iterator():
        try:
            document, _ = load(revision)
        except TightSeamError:
            continue
        keys |= {pose_key(document, p) for p in document.poses} | {check_in.key(document)} | {f.key(document) for f in FINDINGS.values()}
    return keys
