"""A shelf with Maren on it."""

from __future__ import annotations

import pytest


@pytest.fixture
def maren(db, faulty):
    """The id of Maren on an otherwise empty shelf."""
    from bench.rigs import rigs
    from characters.blobs import BlobStore
    from characters.history import create
    from tightseam.document.sections import array_hashes

    rigs.clear()
    store = BlobStore()
    for key in array_hashes(faulty.character):
        store.put(faulty.store.get(key))
    return create(faulty.character, store, "Maren came").pk
