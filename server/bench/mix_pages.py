"""The report of a sweep as a page that can be printed."""

from characters import sweeps
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character as Document
from tightseam.mix.page import mix_page, today
from tightseam.mix.report import MixReport, mix_key


def swept(document: Document, called: str) -> MixReport:
    """What the sweep of a state found, what it calls intended told apart; BadRequest where it was not swept."""
    report = sweeps.report_under(mix_key(document), document)
    if report is None:
        raise BadRequest(f"{called} was not swept. Sweep it at Mix, then ask again.")
    return report


def write(document: Document, store: ArrayStore, before: Document | None = None) -> bytes:
    """The page of a state; side by side with an earlier one, if there is one."""
    report = swept(document, "The rig as it is now")
    earlier = None if before is None else swept(before, "The revision to compare with")
    return mix_page(document, store, report, today(), earlier).encode()
