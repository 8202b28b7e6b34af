"""Write the API's OpenAPI document, from which the TypeScript client is generated."""

import json
from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand

from bench.api import api


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser):
        parser.add_argument("--out", type=Path, default=settings.ROOT / "docs" / "openapi.json")

    def handle(self, *args, **options):
        options["out"].parent.mkdir(exist_ok=True)
        options["out"].write_text(json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True) + "\n")
