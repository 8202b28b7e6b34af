"""Arrays of documents in the database."""

from collections.abc import Iterable

import numpy as np
from tightseam.document.arrays import MemoryStore, array_of, bytes_of
from tightseam.document.derived import DERIVED
from tightseam.document.errors import BadDocument

from characters.models import Blob


class BlobStore:
    """An array store that reads from the database. What is put stays in memory until its `rows` are written."""

    def __init__(self) -> None:
        self._fresh = MemoryStore()

    def get(self, key: str) -> np.ndarray:
        if key in self._fresh.own:
            return self._fresh.own[key]
        return DERIVED.get(("array", key), lambda: _read(key))

    def put(self, array: np.ndarray) -> str:
        return self._fresh.put(array)

    @property
    def fresh(self) -> Iterable[str]:
        """The keys of what was put and is in memory alone."""
        return self._fresh.own.keys()

    def rows(self, keys: set[str]) -> list[Blob]:
        """Those fresh arrays that `keys` names, to be written in the transaction that writes the revision."""
        found = []
        for key in keys & self._fresh.own.keys():
            DERIVED.put(("array", key), self._fresh.own[key])
            found.append(Blob(hash=key, kind="array", data=bytes_of(self._fresh.own[key])))
        return found


def _read(key: str) -> np.ndarray:
    blob = Blob.objects.filter(hash=key, kind="array").first()
    if blob is None:
        raise BadDocument(f"The data block {key[:12]} is missing.")
    return array_of(bytes(blob.data), key)
