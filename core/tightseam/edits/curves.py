"""Curves as people draw them."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tightseam.document.check import check_curve
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.limits import MOST_KEYS
from tightseam.document.model import CurveKeys

ANY = (-1e4, 1e4)
STRONGEST = 4.0  # that a response or a profile may give

Keys = Annotated[CurveKeys, Field(max_length=MOST_KEYS)]


def checked_keys(keys: CurveKeys, what: str, at: tuple[float, float] = ANY, values: tuple[float, float] = ANY) -> CurveKeys:
    """Keys in order; BadRequest where one is out of range or two stand in one place."""
    ordered = tuple(sorted(keys, key=lambda k: k.at))
    for key in ordered:
        if not (at[0] <= key.at <= at[1] and values[0] <= key.value <= values[1]):
            raise BadRequest(
                f"The key of the {what} at {key.at:g} has the value {key.value:g}; keys go from {at[0]:g} to {at[1]:g}, "
                f"values from {values[0]:g} to {values[1]:g}."
            )
    try:
        check_curve(ordered, what)
    except BadDocument as error:
        raise BadRequest(str(error)) from None
    return ordered


def response_keys(keys: CurveKeys) -> CurveKeys:
    """The keys of a response over any control, in order; BadRequest as for `checked_keys`."""
    return checked_keys(keys, "response", values=(-STRONGEST, STRONGEST))
