"""Spellings of earlier versions: read wherever they were written, and never written again.

A field that was renamed reads its old name through an alias beside its own (`AliasChoices`); values and edits that were renamed are here.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import BeforeValidator

EDITS = {"shape.mix": "shape.add_up"}
RIDES = {"lock": "tuft"}
SCULPT_TOOLS = {"inflate": "swell", "deflate": "sink"}


def reading(older: Mapping[str, str]) -> BeforeValidator:
    """Reads a value in its older spelling too."""

    def of_today(value: Any) -> Any:
        return older.get(value, value) if isinstance(value, str) else value

    return BeforeValidator(of_today)
