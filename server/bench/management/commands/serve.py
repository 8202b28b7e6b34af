"""Start Tight Seam: migrate, put the cast on an empty shelf if asked to, serve."""

import os
import threading
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

THREADS = 8  # of them some wait a moment for jobs


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", 8000)))
        parser.add_argument("--host", default="127.0.0.1", help="accounts come with a later version: leave it on this machine")
        parser.add_argument("--demo", action="store_true", help="put the demo cast on the shelf if it is empty")

    def handle(self, *args: str, **options: Any) -> None:
        from characters.at_rest import keep_moving_over
        from characters.reports import KEEPER
        from config.wsgi import application
        from jobs import runners
        from jobs.processes import Processes
        from tightseam.deform.backend import load_compiled
        from tightseam.document.kept import keep_in
        from tightseam.exchange.usd_library import load_usd
        from waitress import serve

        from bench import inbox

        if options["host"] not in ("127.0.0.1", "localhost", "::1"):
            self.stderr.write("Tight Seam has no accounts yet and serves this machine only. Leave --host at 127.0.0.1.")
            raise SystemExit(2)
        call_command("migrate", verbosity=0)
        keep_in(KEEPER)
        if options["demo"]:
            call_command("seat_cast")
        load_usd()  # before there are threads: see there
        threading.Thread(target=load_compiled, daemon=True).start()
        inbox.clear()
        keep_moving_over(settings.DATABASES["default"]["NAME"])
        beside = Processes()
        beside.begin()
        runners.use(beside)
        self.stdout.write(f"Tight Seam is at http://{options['host']}:{options['port']} (Ctrl+C ends it)")
        self.stdout.flush()
        where = {"host": options["host"], "port": options["port"]}
        serve(application, **where, threads=THREADS, max_request_body_size=settings.MOST_BODY_BYTES, ident=None)
