"""A character put together from its sections."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from tightseam.document.check import check_names
from tightseam.document.errors import BadDocument
from tightseam.document.model import Character
from tightseam.document.sections import SECTION_NAMES, adapter

# files of earlier versions do not have these
ADDED_LATER = {"checkin", "skeleton", "selections", "lids", "reliefs", "lips", "plan", "mix", "intended", "caps"}


def load_sections(texts: Mapping[str, bytes | str]) -> Character:
    """The character; BadDocument names the first thing that is missing or wrong. Checks that names are single and known."""
    found: dict[str, Any] = {}
    for name in SECTION_NAMES:
        if name not in texts and name in ADDED_LATER:
            continue
        if name not in texts:
            raise BadDocument(f"The section “{name}” is missing.")
        try:
            found[name] = adapter(name).validate_json(texts[name])
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(step) for step in first["loc"])
            raise BadDocument(f"The section “{name}” is not as it should be at {where or 'its start'}: {first['msg']}.") from None
    character = Character(**found)
    check_names(character)
    return character
