"""Errors whose text is meant for a rigger."""

from __future__ import annotations


class TightSeamError(ValueError):
    """Something a person can put right; the text says what was wrong and what to do."""


class BadDocument(TightSeamError):
    """A character, or a file of one, does not hold together."""


class BadRequest(TightSeamError):
    """A name, number or choice that the character does not allow."""
