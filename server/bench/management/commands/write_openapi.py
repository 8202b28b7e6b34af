"""Write the API's OpenAPI document, from which the TypeScript client is generated."""

import json
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from bench.api import api


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--out", type=Path, default=settings.ROOT / "docs" / "openapi.json")

    def handle(self, *args: str, **options: Any) -> None:
        options["out"].parent.mkdir(exist_ok=True)
        options["out"].write_text(json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True) + "\n")
