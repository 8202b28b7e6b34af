"""Small JSON files that people write, taken in with words for what is wrong with them."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any, TypeVar

from pydantic import TypeAdapter, ValidationError

from tightseam.document.errors import BadRequest

T = TypeVar("T")


def text_of(data: bytes, file: str) -> str:
    """The text of a file in UTF-8, with or without its mark; BadRequest for anything else."""
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BadRequest(f"{file} is no text in UTF-8.") from None


def from_json(text: str, file: str, of: type[T], what: str, whole: Callable[[Any], Any] = lambda found: found) -> T:
    """What JSON says, as a checked dataclass that people call `what`; `whole` completes what may be written in short. BadRequest names the
    place that is wrong."""
    try:
        return TypeAdapter(of).validate_python(whole(json.loads(text)))
    except RecursionError:
        raise BadRequest(f"{file} is nested too deeply.") from None
    except ValidationError as error:
        first = error.errors()[0]
        where = " › ".join(str(step) for step in first["loc"])
        raise BadRequest(f"{file} is no {what} at {where or 'its start'}: {first['msg']}.") from None
    except ValueError as error:
        raise BadRequest(f"{file} is no JSON: {error}.") from None
