"""Arrays under their content hash."""

from __future__ import annotations

import hashlib
import io
from typing import Protocol

import numpy as np

from tightseam.document.errors import BadDocument
from tightseam.geometry.types import AnyArray

ArrayHash = str


class ArrayStore(Protocol):
    """Where the arrays of documents lie. An array that was put is never changed."""

    def get(self, key: ArrayHash) -> AnyArray:
        """The array; BadDocument where there is none of that hash."""

    def put(self, array: AnyArray) -> ArrayHash:
        """The hash under which the array can be had from now on."""


def content_hash(array: AnyArray) -> ArrayHash:
    """SHA-256 of type, shape and bytes, as hex."""
    digest = hashlib.sha256(f"{array.dtype.str} {array.shape}".encode())
    digest.update(np.ascontiguousarray(array).data)  # as it lies there: no copy is made
    return digest.hexdigest()


def bytes_of(array: AnyArray) -> bytes:
    """An array as it is stored: NPY, version 1.0."""
    out = io.BytesIO()
    np.lib.format.write_array(out, np.asarray(array), version=(1, 0), allow_pickle=False)
    return out.getvalue()


def array_of(data: bytes, key: ArrayHash) -> AnyArray:
    """The array that was stored under its hash; BadDocument where the bytes are none, or another's."""
    try:
        array = np.lib.format.read_array(io.BytesIO(data), allow_pickle=False)
    except (ValueError, EOFError, OSError, MemoryError, OverflowError, SyntaxError, TypeError, KeyError) as error:
        raise BadDocument(f"The data block {key[:12]} cannot be read ({error}).") from None
    if array.dtype.kind not in "fiu" or content_hash(array) != key:
        raise BadDocument(f"The data block {key[:12]} is not what its name says; the file is damaged.")
    return np.asarray(array)


class MemoryStore:
    """Arrays in a dictionary; reads that miss go on to `behind`, so that an edit can add to a store without touching it."""

    def __init__(self, behind: ArrayStore | None = None) -> None:
        self.own: dict[ArrayHash, AnyArray] = {}
        self._behind = behind

    def get(self, key: ArrayHash) -> AnyArray:
        if key in self.own:
            return self.own[key]
        if self._behind is None:
            raise BadDocument(f"The data block {key[:12]} is missing.")
        return self._behind.get(key)

    def put(self, array: AnyArray) -> ArrayHash:
        """As in the protocol; floating arrays that hold NaN or infinity are refused."""
        if array.dtype.kind == "f" and not np.isfinite(array).all():
            raise BadDocument("The result holds numbers that are not finite; nothing was changed.")
        stored = np.ascontiguousarray(array).copy()
        stored.setflags(write=False)
        key = content_hash(stored)
        self.own[key] = stored
        return key
