"""Small results that outlive the process that made them: findings, readings and reports, as JSON under what they were made from.

Whoever runs the core may say where they are kept; nobody need. Several processes that keep in one place measure nothing twice.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from functools import cache, update_wrapper
from importlib.metadata import version
from typing import Any, Concatenate, Generic, ParamSpec, Protocol, TypeVar

from pydantic import TypeAdapter, ValidationError

from tightseam.document.arrays import ArrayStore
from tightseam.document.derived import derived
from tightseam.document.model import Character
from tightseam.document.sections import keys_of

P = ParamSpec("P")
T = TypeVar("T")
VERSION = version("tight-seam")  # another version may measure otherwise


class Keeper(Protocol):
    """Where results are kept."""

    def load(self, key: str) -> bytes | None: ...

    def save(self, key: str, data: bytes) -> None: ...


_keepers: list[Keeper] = []


def keep_in(keeper: Keeper | None) -> None:
    """Keep results there from now on; nowhere with None."""
    _keepers[:] = [] if keeper is None else [keeper]


def kept_key(what: str, character: Character, sections: tuple[str, ...], *more: object) -> str:
    """SHA-256, as hex, of what is asked, the sections it hangs on, and whatever else does."""
    return hashlib.sha256(
        json.dumps([VERSION, what, keys_of(character, sections), *more], sort_keys=True, default=repr).encode()
    ).hexdigest()


@cache
def _adapter(of: Any) -> TypeAdapter[Any]:
    return TypeAdapter(of)


def kept(key: str, of: Any, make: Callable[[], T]) -> T:
    """What is kept under the key as a thing of this type, or what `make()` gives, which is kept from now on."""
    if not _keepers:
        return make()
    keeper, adapter = _keepers[0], _adapter(of)
    data = keeper.load(key)
    if data is not None:
        try:
            found: T = adapter.validate_json(data)
            return found
        except ValidationError:  # damaged, or of another shape than it has today: it can be made again
            pass
    made = make()
    keeper.save(key, adapter.dump_json(made))
    return made


class Remembered(Generic[P, T]):
    """A function of a character and its arrays whose results are derived from some sections alone, and kept as things of a type."""

    def __init__(self, make: Callable[Concatenate[Character, ArrayStore, P], T], of: Any, sections: tuple[str, ...]) -> None:
        self._name, self._of, self._sections = f"{make.__module__}.{make.__qualname__}", of, sections
        self._found = derived(*sections)(make)
        update_wrapper(self, make)

    def __call__(self, character: Character, store: ArrayStore, /, *args: P.args, **more: P.kwargs) -> T:
        return kept(self.key(character, *args, **more), self._of, lambda: self._found(character, store, *args, **more))

    def key(self, character: Character, /, *args: P.args, **more: P.kwargs) -> str:
        """The key under which the result for a character is kept."""
        return kept_key(self._name, character, self._sections, *args, more)


def remembered(of: Any, *sections: str) -> Callable[[Callable[Concatenate[Character, ArrayStore, P], T]], Remembered[P, T]]:
    """Keep what a function gives, as `derived` does, and beyond the process too: as a thing of the type `of`."""
    return lambda make: Remembered(make, of, sections)
