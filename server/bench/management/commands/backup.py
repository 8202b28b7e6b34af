"""Copy the whole database to a file, also while the server runs. The database's file alone does not hold what was done last."""

import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

from characters.sound import damage_of
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: str, **options: Any) -> None:
        target: Path = options["file"]
        if target.exists():
            raise CommandError(f"{target} is there already; a backup goes into a new file.")
        part = target.with_name(f"{target.name}.part")  # it has its name only once it is whole
        try:
            with closing(sqlite3.connect(settings.DATABASES["default"]["NAME"])) as live, closing(sqlite3.connect(part)) as copy:
                live.backup(copy)
                copy.execute("PRAGMA journal_mode=DELETE")  # one file that can be carried away
            damage = damage_of(part)
            if damage:
                raise CommandError(f"What was copied is damaged: {damage}")
            part.rename(target)
        except (sqlite3.Error, OSError) as error:
            raise CommandError(f"Nothing was saved: {error}.") from None
        finally:
            part.unlink(missing_ok=True)
        self.stdout.write(f"Saved {target}, {target.stat().st_size / 1e6:.1f} MB.")
