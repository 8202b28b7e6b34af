"""The report of a sweep as a page that can be printed."""

from characters.reports import KEEPER
from pydantic import ValidationError
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character as Document
from tightseam.mix.intended import with_intended
from tightseam.mix.page import mix_page, today
from tightseam.mix.report import REPORT, MixReport, mix_key


def swept(document: Document, called: str) -> MixReport:
    """What the sweep of a state found, what it calls intended told apart; BadRequest where it was not swept."""
    data = KEEPER.load(mix_key(document))
    try:
        report = REPORT.validate_json(data or b"")
    except ValidationError:  # none, or one of an earlier version that says less
        raise BadRequest(f"{called} was not swept. Sweep it at Mix, then ask again.") from None
    return with_intended(report, document.intended)


def write(document: Document, store: ArrayStore, before: Document | None = None) -> bytes:
    """The page of a state; side by side with an earlier one, if there is one."""
    report = swept(document, "The rig as it is now")
    earlier = None if before is None else swept(before, "The revision to compare with")
    return mix_page(document, store, report, today(), earlier).encode()
