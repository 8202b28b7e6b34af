"""The report of a sweep as a page that can be printed."""

from datetime import UTC, datetime

from characters.reports import KEEPER
from pydantic import TypeAdapter
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character as Document
from tightseam.mix.page import mix_page
from tightseam.mix.report import MixReport, mix_key

REPORT = TypeAdapter(MixReport)


def write(document: Document, store: ArrayStore) -> bytes:
    """BadRequest where this state was not swept."""
    kept = KEEPER.load(mix_key(document))
    if kept is None:
        raise BadRequest("There is no sweep of the rig as it is now. Sweep it at Mix, then ask again.")
    date = datetime.now(UTC).strftime("%-d %B %Y, %H:%M UTC")
    return mix_page(document, store, REPORT.validate_json(kept), date).encode()
