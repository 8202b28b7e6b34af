"""What has buffers of its own: made when it is first asked for, and lent to one caller at a time."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Generic, TypeVar

T = TypeVar("T")


class Lent(Generic[T]):
    """`with lent() as thing:`; whoever else wants it waits."""

    def __init__(self, make: Callable[[], T]) -> None:
        self._make = make
        self._lock = threading.RLock()
        self._things: list[T] = []

    @contextmanager
    def __call__(self) -> Iterator[T]:
        with self._lock:
            if not self._things:
                self._things.append(self._make())
            yield self._things[0]
