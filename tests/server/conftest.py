"""Shelves with somebody on them."""

from __future__ import annotations

import pytest
from tightseam.document.kept import keep_in


@pytest.fixture
def shelf(db):
    """An empty shelf, and nothing kept of the characters of other tests, whose numbers come again. What is measured is kept, and jobs are
    done at once, in the request that asks."""
    from bench import work  # noqa: F401  it says who does what
    from bench.rigs import rigs
    from characters.reports import KEEPER

    rigs.clear()
    keep_in(KEEPER)
    yield
    keep_in(None)


def seat(character, store) -> int:
    """Puts a character on the shelf; its id."""
    from characters.blobs import BlobStore
    from characters.history import create
    from tightseam.document.sections import array_hashes

    blobs = BlobStore()
    for key in array_hashes(character):
        blobs.put(store.get(key))
    return create(character, blobs, f"{character.about.name} came").pk


@pytest.fixture
def maren(shelf, faulty) -> int:
    return seat(faulty.character, faulty.store)


@pytest.fixture
def pim(shelf, fresh) -> int:
    """Pim, fresh from modelling."""
    return seat(fresh.character, fresh.store)
