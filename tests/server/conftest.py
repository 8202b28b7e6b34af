"""Shelves with somebody on them."""

from __future__ import annotations

import pytest


@pytest.fixture
def shelf(db):
    """An empty shelf, and nothing kept of the characters of other tests, whose numbers come again."""
    from bench.rigs import rigs

    rigs.clear()


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
