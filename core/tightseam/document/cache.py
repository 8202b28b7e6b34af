"""Things that were made once, kept under a key for whoever asks again."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

S = TypeVar("S")
T = TypeVar("T")
MOST_THINGS = 1 << 15


class Cache:
    """Things by a key, at most so much of them as they are `weighed` by, the longest unused dropped first. Several threads may ask at
    once."""

    def __init__(self, most: int, weighed: Callable[[Any], int]) -> None:
        self._most, self._held, self._weighed = most, 0, weighed
        self._kept: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._lock = threading.Lock()
        self._making: dict[Hashable, threading.Lock] = {}

    @property
    def held(self) -> int:
        """How much is kept, as it was when it was put here."""
        return self._held

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """What is kept under the key, or what `make()` gives; who asks while it is made waits. `make` must not ask for its own key."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key][0]
            making = self._making.setdefault(key, threading.Lock())
        with making:
            with self._lock:
                if key in self._kept:
                    return self._kept[key][0]
            try:
                made = make()
                self.put(key, made)
            finally:
                with self._lock:
                    self._making.pop(key, None)
        return made

    def put(self, key: Hashable, thing: Any) -> None:
        """Keep a thing that is there already."""
        size = self._weighed(thing)
        with self._lock:
            self._held += size - self._kept.pop(key, (None, 0))[1]
            self._kept[key] = thing, size
            while self._held > self._most and len(self._kept) > 1:
                self._held -= self._kept.popitem(last=False)[1][1]

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
            self._held = 0


def one(_thing: Any) -> int:
    """What weighs every thing alike: a cache of so many things."""
    return 1


class OfThings:
    """What is known of things that never change, kept by the very object: to hash all that one holds takes longer than to make it. What is
    kept holds the thing too, so that its id is nobody else's."""

    def __init__(self, most: int = MOST_THINGS) -> None:
        self._kept = Cache(most, one)

    def get(self, thing: S, make: Callable[[S], T], what: Hashable = None) -> T:
        """`make(thing)`, made once for as long as the thing is there; `what` tells apart several that are kept of one."""
        return self._kept.get((id(thing), what), lambda: (thing, make(thing)))[1]
