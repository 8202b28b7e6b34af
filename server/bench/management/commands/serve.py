"""Start Tight Seam: migrate, put the cast on an empty shelf if asked to, serve."""

import errno
import os
import socket
import threading
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

THREADS = 8  # of them some wait a moment for jobs
CONNECTIONS = 1_000  # that may stand open: ones that send nothing hold no thread
SILENT = 30  # s after which such a one is closed


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
        self._claim(options["host"], options["port"])
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
        limits = {"connection_limit": CONNECTIONS, "channel_timeout": SILENT, "max_request_body_size": settings.MOST_BODY_BYTES}
        serve(application, **where, **limits, threads=THREADS, asyncore_use_poll=True, ident=None)

    def _claim(self, host: str, port: int) -> None:
        """Say so at once where the port is not to be had, before anything is begun."""
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        with socket.socket(family) as trial:
            trial.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                trial.bind((host, port))
            except OSError as error:
                in_use = "is in use: another program, or Tight Seam itself, answers there"
                why = in_use if error.errno == errno.EADDRINUSE else "cannot be had"
                self.stderr.write(f"Port {port} {why}. Choose another with --port, or PORT=… make demo.")
                raise SystemExit(2) from None
