"""Everything that is derived from documents, kept in one place under what it was made from.

What is kept is shared by whoever asks, in any thread, and never changed: its arrays are read-only. What has buffers of its own, as an
evaluator or a meter has, belongs to its caller and is not kept here.
"""

from __future__ import annotations

import sys
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping
from dataclasses import MISSING, fields
from functools import wraps
from typing import Any, Concatenate, ParamSpec, TypeVar

import numpy as np

from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.model import About, Character
from tightseam.document.sections import keys_of

P = ParamSpec("P")
T = TypeVar("T")
MOST_BYTES = 1 << 30
SECTIONS = {f.name: f for f in fields(Character)}


class Cache:
    """Things by a key, at most so many bytes of them or so much else as they are weighed by, the longest unused dropped first. Several
    threads may ask at once."""

    def __init__(self, most: int = MOST_BYTES, weighed: Callable[[Any], int] | None = None) -> None:
        self._most, self._held, self._weighed = most, 0, weighed or frozen
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


def frozen(thing: Any) -> int:
    """Make every array of a thing read-only; how many bytes there are of it."""
    return _frozen(thing, set())


def _frozen(thing: Any, seen: set[int]) -> int:
    if thing is None or isinstance(thing, type | Character | MemoryStore) or id(thing) in seen:  # those are shared, and never changed
        return 0
    seen.add(id(thing))
    if isinstance(thing, np.ndarray):
        thing.setflags(write=False)
        return int(thing.nbytes)
    if isinstance(thing, Mapping):
        return sum(_frozen(x, seen) for x in thing.values())
    if isinstance(thing, list | tuple | set | frozenset):
        return sum(_frozen(x, seen) for x in thing)
    return sys.getsizeof(thing, 0) + sum(_frozen(x, seen) for x in getattr(thing, "__dict__", {}).values())


DERIVED = Cache()


def derived(
    *sections: str,
) -> Callable[[Callable[Concatenate[Character, ArrayStore, P], T]], Callable[Concatenate[Character, ArrayStore, P], T]]:
    """Keep what a function of a character and its arrays gives, for as long as these sections and its other arguments, which have to be
    hashable, stay the same. The function is shown nothing but these sections, so it cannot hang on another."""

    def of(make: Callable[Concatenate[Character, ArrayStore, P], T]) -> Callable[Concatenate[Character, ArrayStore, P], T]:
        @wraps(make)
        def found(character: Character, store: ArrayStore, /, *args: P.args, **more: P.kwargs) -> T:
            key = (make.__module__, make.__qualname__, keys_of(character, sections), args, tuple(sorted(more.items())))
            return DERIVED.get(key, lambda: make(only(character, sections), store, *args, **more))

        return found

    return of


def only(character: Character, sections: tuple[str, ...]) -> Character:
    """The character with these sections, the others as they are where nothing has been made yet."""
    empty: dict[str, Any] = {"about": About(""), "parts": ()}
    return Character(**{name: getattr(character, name) if name in sections else empty.get(name, _default(name)) for name in SECTIONS})


def _default(name: str) -> Any:
    field = SECTIONS[name]
    return field.default_factory() if field.default_factory is not MISSING else None if field.default is MISSING else field.default
