"""Start Tight Seam: migrate, put the cast on an empty shelf if asked to, serve."""

import os
import threading

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser):
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", 8000)))
        parser.add_argument("--host", default="127.0.0.1", help="accounts come with a later version: leave it on this machine")
        parser.add_argument("--demo", action="store_true", help="put the demo cast on the shelf if it is empty")

    def handle(self, *args, **options):
        from config.wsgi import application
        from tightseam.deform.backend import load_compiled
        from tightseam.exchange.usd_library import load_usd
        from waitress import serve

        if options["host"] not in ("127.0.0.1", "localhost", "::1"):
            self.stderr.write("Tight Seam has no accounts yet and serves this machine only. Leave --host at 127.0.0.1.")
            raise SystemExit(2)
        call_command("migrate", verbosity=0)
        if options["demo"]:
            call_command("seat_cast")
        load_usd()  # before there are threads: see there
        threading.Thread(target=load_compiled, daemon=True).start()
        self.stdout.write(f"Tight Seam is at http://{options['host']}:{options['port']} (Ctrl+C ends it)")
        self.stdout.flush()
        serve(
            application, host=options["host"], port=options["port"], threads=6, max_request_body_size=settings.MOST_BODY_BYTES, ident=None
        )
