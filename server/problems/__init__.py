"""What went wrong, as a person is told of it: the same words whether a request or a job came to nothing. Errors that nobody foresaw are
written to the log under a number, which is what a person is told."""

import logging
import secrets

from characters.history import StaleBase
from django.db import DatabaseError, OperationalError
from django.http import Http404, HttpRequest, JsonResponse
from ninja import Schema
from numpy.linalg import LinAlgError
from tightseam.document.errors import TightSeamError
from tightseam.document.progress import Cancelled

log = logging.getLogger("tightseam")


class Problem(Schema):
    """Why a request was refused, in words; for a stale base also the revision people see now."""

    message: str
    head: int | None = None
    changed: list[str] = []


FULL = "The disk is full: make room, then try again."
SCARCE = "This asks for more memory than there is for it."
FLAT = "The surface is so flat or so far collapsed there that this cannot be computed: Check-in marks such faces."
DAMAGED = "The database is damaged and cannot be read there. Stop the server, then verify it and restore the last backup: README says how."
BUSY = "The database is busy or cannot be written: try again in a moment."
STOPPED = Problem(message="Stopped. Nothing was stored.")


def problem_of(error: Exception, where: str) -> tuple[int, Problem]:
    """Status and words for an error; what nobody foresaw goes to the log as having happened at `where`."""
    if isinstance(error, TightSeamError):
        return 400, Problem(message=str(error))
    if isinstance(error, Cancelled):
        return 409, STOPPED
    if isinstance(error, StaleBase):
        message = f"{error} Look again, then repeat your edit."
        return 409, Problem(message=message, head=error.head.number, changed=[r.text for r in error.since])
    if isinstance(error, Http404):
        return 404, Problem(message=str(error))
    if isinstance(error, MemoryError):
        return 400, Problem(message=f"{SCARCE} Nothing was stored.")
    if isinstance(error, OverflowError) and "SQLite" in str(error):  # an id or a revision beyond any that is stored
        return 404, Problem(message="There is nothing with so large a number.")
    if isinstance(error, LinAlgError):
        log.exception("Not solved in %s", where)
        return 400, Problem(message=f"{FLAT} Nothing was changed.")
    if isinstance(error, OperationalError):
        return 503, Problem(message=f"{FULL if 'full' in str(error) else BUSY} Nothing was changed.")
    if isinstance(error, DatabaseError) and "malformed" in str(error):
        log.exception("The database is damaged: %s", where)
        return 503, Problem(message=DAMAGED)
    return 500, Problem(message=unforeseen(where))


def unforeseen(where: str) -> str:
    """Log the exception that is being handled; what to tell of it."""
    number = secrets.token_hex(4).upper()
    log.exception("Error %s in %s", number, where)
    return f"Something went wrong that should not have. The log has it as error {number}; look again before you go on."


def server_error(request: HttpRequest) -> JsonResponse:
    """The answer where the error was raised outside the API's own endpoints."""
    return JsonResponse({"message": unforeseen(f"{request.method} {request.path}")}, status=500)
