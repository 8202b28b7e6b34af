"""Arrays of documents in the database."""

import io
from collections.abc import Iterable

import numpy as np
from tightseam.document.arrays import MemoryStore, content_hash
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
            buffer = io.BytesIO()
            np.lib.format.write_array(buffer, self._fresh.own[key], version=(1, 0), allow_pickle=False)
            found.append(Blob(hash=key, kind="array", data=buffer.getvalue()))
        return found


def _read(key: str) -> np.ndarray:
    blob = Blob.objects.filter(hash=key, kind="array").first()
    if blob is None:
        raise BadDocument(f"The data block {key[:12]} is missing.")
    array = np.lib.format.read_array(io.BytesIO(bytes(blob.data)), allow_pickle=False)
    if content_hash(array) != key:
        raise BadDocument(f"The data block {key[:12]} is damaged.")
    return array
