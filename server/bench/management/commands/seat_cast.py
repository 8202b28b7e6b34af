"""Put the demo cast on an empty shelf, measured."""

from concurrent.futures import ProcessPoolExecutor

from characters.blobs import BlobStore
from characters.history import create
from characters.models import Character
from django.core.management.base import BaseCommand
from tightseam.document.arrays import MemoryStore
from tightseam.exchange.character_file import read_character, write_character

from bench import checkin
from bench.measuring import measure
from bench.schemas import MeasureIn


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args, **options):
        if Character.objects.exists():
            return
        from tightseam.demo.cast import NAMES

        self.stdout.write(f"Making {', '.join(n.capitalize() for n in NAMES)} …")
        with ProcessPoolExecutor() as pool:
            for data in pool.map(_made, NAMES):
                self._seat(data)

    def _seat(self, data: bytes) -> None:
        store = BlobStore()
        document = read_character(data, store)
        character = create(document, store, f"{document.about.name} came from {document.about.story}")
        self.stdout.write(f"{document.about.name} takes a seat")
        checkin.report(character.head)
        for pose in document.poses:
            measure(character.head, MeasureIn(revision=1, pose=pose.name))


def _made(name: str) -> bytes:
    """A member of the cast as a character file: heads are made beside one another, and only files go between processes."""
    from tightseam.demo.cast import cast

    store = MemoryStore()
    return write_character(cast(name, store), store)
