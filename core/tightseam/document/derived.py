"""Everything that is derived from documents, kept in one place under what it was made from.

What is kept is shared by whoever asks, in any thread, and never changed: its arrays are read-only. What has buffers of its own, as an
evaluator or a meter has, belongs to its caller and is not kept here.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Mapping
from dataclasses import MISSING, fields
from functools import wraps
from typing import Any, Concatenate, ParamSpec, TypeVar

import numpy as np

from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.cache import Cache
from tightseam.document.model import About, Character
from tightseam.document.sections import keys_of

P = ParamSpec("P")
T = TypeVar("T")
MOST_BYTES = 1 << 30
SECTIONS = {f.name: f for f in fields(Character)}


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


DERIVED = Cache(MOST_BYTES, frozen)


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
