"""The report of a sweep as a page that can be printed."""

from characters.reports import KEEPER
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character as Document
from tightseam.mix.intended import with_intended
from tightseam.mix.page import mix_page, today
from tightseam.mix.report import REPORT, mix_key


def write(document: Document, store: ArrayStore) -> bytes:
    """BadRequest where this state was not swept."""
    kept = KEEPER.load(mix_key(document))
    if kept is None:
        raise BadRequest("There is no sweep of the rig as it is now. Sweep it at Mix, then ask again.")
    report = with_intended(REPORT.validate_json(kept), document.intended)
    return mix_page(document, store, report, today()).encode()
