"""Put the demo cast on an empty shelf, measured."""

from characters.blobs import BlobStore
from characters.history import create
from characters.models import Character
from django.core.management.base import BaseCommand

from bench import checkin
from bench.measuring import measure
from bench.schemas import MeasureIn


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args, **options):
        if Character.objects.exists():
            return
        from tightseam.demo.cast import NAMES, cast

        for name in NAMES:
            self.stdout.write(f"Making {name.capitalize()} …")
            store = BlobStore()
            document = cast(name, store)
            character = create(document, store, f"{document.about.name} came from {document.about.story}")
            checkin.report(character.head)
            for pose in document.poses:
                measure(character.head, MeasureIn(revision=1, pose=pose.name))
