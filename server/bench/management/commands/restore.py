"""Put a backup in the place of the database. The server must not run; the database that was there is kept beside it."""

import shutil
import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path
from typing import Any

from characters.sound import damage_of
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connections


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: str, **options: Any) -> None:
        backup: Path = options["file"]
        place = Path(settings.DATABASES["default"]["NAME"])
        if not backup.is_file():
            raise CommandError(f"There is no file {backup}.")
        damage = damage_of(backup)
        if damage:
            raise CommandError(f"{backup} cannot be restored: {damage}")
        connections.close_all()
        if place.exists() and _in_use(place):
            raise CommandError("The server is running. Stop it first.")
        before = place.with_name(f"{place.stem}.before-{datetime.now():%Y%m%d-%H%M%S}{place.suffix}")
        for ending in ("", "-wal", "-shm"):
            old = place.with_name(place.name + ending)
            if old.exists():
                old.rename(before.with_name(before.name + ending))
        shutil.copyfile(backup, place)
        self.stdout.write(f"Restored {backup}. What was there before is {before.name}.")


def _in_use(place: Path) -> bool:
    """Has any process the database open? Only one that has it alone may lock it so."""
    try:
        with closing(sqlite3.connect(place, timeout=0)) as own:
            own.execute("PRAGMA locking_mode=EXCLUSIVE")
            own.execute("BEGIN EXCLUSIVE")
            own.rollback()
    except sqlite3.OperationalError:
        return True
    except sqlite3.DatabaseError:  # damaged, which is why somebody restores
        return False
    return False
