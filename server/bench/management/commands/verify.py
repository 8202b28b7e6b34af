"""Read all of a database, or of a backup of it: its pages, every data block against its hash, and the newest state of every character."""

from pathlib import Path
from typing import Any

from characters.sound import damage_of, faults_of
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, nargs="?", help="a backup; the database itself without it")

    def handle(self, *args: str, **options: Any) -> None:
        place = options["file"] or Path(settings.DATABASES["default"]["NAME"])
        if not place.is_file():
            raise CommandError(f"There is no file {place}.")
        found = [damage] if (damage := damage_of(place)) else faults_of(place)
        for fault in found:
            self.stdout.write(fault)
        if found:
            raise CommandError(f"{place} is not sound.")
        self.stdout.write(f"{place} is sound.")
