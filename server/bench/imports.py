"""Taking in delivered files, with progress that can be asked for and a stop that can be given meanwhile.

The request that sends the files does the work, so that nothing is left half done: what was not taken in whole is not stored.
"""

import threading
from collections.abc import Iterator, Mapping
from contextlib import contextmanager

from characters import history
from characters.blobs import BlobStore
from characters.models import Character
from tightseam.document.errors import BadRequest
from tightseam.exchange.delivery import Cancelled, Progress
from tightseam.intake.take_in import take_in


class Imports:
    """Imports going on, by a token that the client chose."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._going: dict[str, tuple[float, str]] = {}
        self._stopped: set[str] = set()

    def run(self, token: str, files: Mapping[str, bytes]) -> tuple[Character, list[str]]:
        """The new character and notes on how it came. Cancelled when `stop` was called for the token."""
        with self.going(token) as report:
            store = BlobStore()
            taken = take_in(files, store, report)
            report(1.0, "Putting it on the shelf")
            names = ", ".join(sorted(files))
            return history.create(taken.character, store, f"Added {names}"), list(taken.notes)

    @contextmanager
    def going(self, token: str) -> Iterator[Progress]:
        """While something is taken in; what it yields is told of its progress, and raises Cancelled when `stop` was called."""
        with self._lock:
            if token in self._going:
                raise BadRequest("An import with this token is going on already.")
            self._going[token] = (0.0, "Reading")
        try:
            yield lambda share, text: self._report(token, share, text)
        finally:
            with self._lock:
                self._going.pop(token, None)
                self._stopped.discard(token)

    def progress(self, token: str) -> tuple[float, str] | None:
        with self._lock:
            return self._going.get(token)

    def stop(self, token: str) -> bool:
        """True where there was something to stop."""
        with self._lock:
            if token in self._going:
                self._stopped.add(token)
            return token in self._going

    def _report(self, token: str, share: float, text: str) -> None:
        with self._lock:
            if token in self._stopped:
                raise Cancelled
            self._going[token] = (share, text)


imports = Imports()
