"""Put the demo cast on an empty shelf, measured."""

from concurrent.futures import ProcessPoolExecutor
from typing import Any

from characters.blobs import BlobStore
from characters.history import create
from characters.models import Character
from characters.reports import KEEPER
from django.core.management.base import BaseCommand
from tightseam.checkin.report import check_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.kept import keep_in
from tightseam.exchange.character_file import read_character, write_character
from tightseam.seams.pose_report import PoseMeter


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: str, **options: Any) -> None:
        if Character.objects.exists():
            return
        from tightseam.demo.cast import NAMES

        keep_in(KEEPER)

        self.stdout.write(f"Making {', '.join(n.capitalize() for n in NAMES)} …")
        with ProcessPoolExecutor() as pool:
            for data in pool.map(_made, NAMES):
                self._seat(data)

    def _seat(self, data: bytes) -> None:
        store = BlobStore()
        document = read_character(data, store)
        create(document, store, f"{document.about.name} came from {document.about.story}")
        self.stdout.write(f"{document.about.name} takes a seat")
        with KEEPER.together():
            check_in(document, store)
            meter = PoseMeter(document, store)
            for pose in document.poses:
                meter.report(pose)


def _made(name: str) -> bytes:
    """A member of the cast as a character file: heads are made beside one another, and only files go between processes."""
    from tightseam.demo.cast import cast

    store = MemoryStore()
    return write_character(cast(name, store), store)
