"""Drop what nothing speaks of any more: data blocks that no revision names, and reports on what is no longer there."""

import re
from collections.abc import Iterator

from characters.history import load
from characters.models import Blob, Report, Revision
from django.core.management.base import BaseCommand
from django.db import connection, transaction
from django.db.models import Sum
from django.db.models.functions import Length
from tightseam.document.errors import TightSeamError

from bench.checkin import checkin_key
from bench.measuring import pose_key

BATCH = 500
HASH = re.compile(rb'"([0-9a-f]{64})"')


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser):
        parser.add_argument("--dry-run", action="store_true", help="say what would be dropped, and drop nothing")

    def handle(self, *args, **options):
        dry = options["dry_run"]
        with transaction.atomic():
            blobs = set(Blob.objects.values_list("hash", flat=True)) - _named()
            reports = set(Report.objects.values_list("key", flat=True)) - _keys()
            size = sum(Blob.objects.filter(hash__in=some).aggregate(size=Sum(Length("data")))["size"] or 0 for some in batched(blobs))
            if not dry:
                for some in batched(blobs):
                    Blob.objects.filter(hash__in=some).delete()
                for some in batched(reports):
                    Report.objects.filter(key__in=some).delete()
        if not dry:
            compact()
        did = "Would drop" if dry else "Dropped"
        self.stdout.write(f"{did} {len(blobs)} data blocks ({size / 1e6:.1f} MB) and {len(reports)} reports.")


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
    """The keys of all reports that a revision may ask for. Of a damaged revision none can be told; its reports go."""
    keys = set()
    for revision in Revision.objects.iterator():
        keys.add(checkin_key(revision))
        try:
            document, _ = load(revision)
        except TightSeamError:
            continue
        keys |= {pose_key(revision, p) for p in document.poses}
    return keys
