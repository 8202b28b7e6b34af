"""Things kept under the hash of what they were made from, the longest unused dropped first."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any


def _one(_thing: Any) -> int:
    return 1


class Kept:
    """At most so many things, or so much of them where it is said how much each is; several threads may ask at once. What is kept is never
    changed."""

    def __init__(self, most: int, much: Callable[[Any], int] = _one) -> None:
        self._most, self._much, self._held = most, much, 0
        self._kept: OrderedDict[Hashable, Any] = OrderedDict()
        self._lock = threading.Lock()
        self._making: dict[Hashable, threading.Lock] = {}

    def get(self, key: Hashable, make: Callable[..., Any]) -> Any:
        """What is kept under the key, or what `make()` gives; who asks while it is made waits. `make` must not ask for its own key."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
            making = self._making.setdefault(key, threading.Lock())
        with making:
            with self._lock:
                if key in self._kept:
                    return self._kept[key]
            try:
                made = make()
                self._keep(key, made)
            finally:
                with self._lock:
                    self._making.pop(key, None)
        return made

    def put(self, key: Hashable, thing: Any) -> None:
        """Keep a thing that is there already."""
        self._keep(key, thing)

    def _keep(self, key: Hashable, made: Any) -> None:
        with self._lock:
            if key in self._kept:
                self._held -= self._much(self._kept.pop(key))
            self._kept[key] = made
            self._held += self._much(made)
            while self._held > self._most and len(self._kept) > 1:
                self._held -= self._much(self._kept.popitem(last=False)[1])

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
            self._held = 0
