"""Measures the cells of a sweep on a cluster of machines (dask.distributed)."""

from __future__ import annotations

import threading
from collections.abc import Iterator, Sequence
from hashlib import sha256
from importlib import import_module
from ipaddress import ip_address
from typing import Any, TypeVar
from urllib.parse import urlsplit

from tightseam.deform.backend import load_compiled
from tightseam.document.errors import BadRequest
from tightseam.mix.executors import Chunk, Lesson, Measured, unpacked, work

PATIENCE = 30  # s to find the cluster
T = TypeVar("T")
KEPT = 2  # heads that a worker remembers


class Cluster:
    """Measures on whatever workers a scheduler has. What a head is made from goes to each of them once; what a worker that is lost was
    doing is done again by another."""

    def __init__(self, address: str, subject: bytes) -> None:
        self._client: Any = _connected(address)
        # what is scattered is lost with its worker; a task is done again
        self._subject = self._client.submit(_given, subject, pure=False)
        self._key = sha256(subject).hexdigest()

    def run(self, chunks: Sequence[Chunk], lesson: Lesson) -> Iterator[list[Measured]]:
        taught = self._client.submit(_given, lesson, pure=False)
        futures = [self._client.submit(_work, self._key, self._subject, chunk, taught, pure=False) for chunk in chunks]
        try:
            for future in futures:
                yield future.result()
        finally:
            self._client.cancel(futures)

    def close(self) -> None:
        self._client.close()


def _given(thing: T) -> T:
    """What a worker fetches once, from the scheduler or from another worker."""
    return thing


def _connected(address: str) -> Any:
    """A client of the scheduler. BadRequest where nobody answers there, or where what is measured would go over the net in clear text."""
    try:
        distributed: Any = import_module("distributed")
    except ImportError:
        raise BadRequest("A cluster needs the package distributed: pip install tight-seam[cluster].") from None
    secure = urlsplit(address).scheme == "tls"
    if not secure and not _is_here(address):
        raise BadRequest(f"{address} is not on this machine: give its address as tls://…, with certificates as dask is configured for.")
    try:
        security = distributed.Security(require_encryption=True) if secure else None
        return distributed.Client(address, timeout=PATIENCE, security=security, set_as_default=False)
    except (OSError, ValueError, TimeoutError) as error:
        raise BadRequest(f"No cluster answers at {address}: {error}") from None


def _is_here(address: str) -> bool:
    host = urlsplit(address if "://" in address else f"tcp://{address}").hostname or ""
    try:
        return host == "localhost" or ip_address(host).is_loopback
    except ValueError:
        return False


_own = threading.local()  # a sweeper has buffers of its own: each thread of a worker has one


def _work(key: str, subject: bytes, chunk: Chunk, lesson: Lesson) -> list[Measured]:
    sweepers: dict[str, Any] = _own.__dict__.setdefault("sweepers", {})
    if key not in sweepers:
        load_compiled()
        while len(sweepers) >= KEPT:
            sweepers.pop(next(iter(sweepers)))
        sweepers[key] = unpacked(subject)
    return work(sweepers[key], chunk, lesson)
