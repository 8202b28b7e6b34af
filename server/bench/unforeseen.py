"""Errors that nobody foresaw: written to the log under a number, which is what a person is told."""

import logging
import secrets

from django.http import HttpRequest, JsonResponse

log = logging.getLogger("tightseam")


def unforeseen(where: str) -> str:
    """Log the exception that is being handled; what to tell of it."""
    number = secrets.token_hex(4).upper()
    log.exception("Error %s in %s", number, where)
    return f"Something went wrong that should not have. The log has it as error {number}; look again before you go on."


def server_error(request: HttpRequest) -> JsonResponse:
    """The answer where the error was raised outside the API's own endpoints."""
    return JsonResponse({"message": unforeseen(f"{request.method} {request.path}")}, status=500)
