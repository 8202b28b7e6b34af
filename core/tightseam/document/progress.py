"""How far long work is: whoever starts it listens, and what does it tells, without knowing to whom."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TypeVar

T = TypeVar("T")
Progress = Callable[[float, str], None]


class Cancelled(Exception):
    """Raised by who listens, to stop what is going on."""


def no_progress(share: float, text: str) -> None:
    """For callers who do not want to know."""


_listener: ContextVar[Progress] = ContextVar("listener", default=no_progress)


def tell(share: float, text: str) -> None:
    """Say how far the work at hand is (0 to 1), and what is being done. Raises Cancelled where that was asked for."""
    _listener.get()(share, text)


@contextmanager
def heard_by(listener: Progress) -> Iterator[None]:
    """Within, everything is told to this one."""
    token = _listener.set(listener)
    try:
        yield
    finally:
        _listener.reset(token)


@contextmanager
def part_of_it(low: float, high: float, prefix: str = "") -> Iterator[None]:
    """Within, what is told of as 0 to 1 is `low` to `high` of the whole; it begins with the prefix."""
    outer = _listener.get()
    with heard_by(lambda share, text: outer(low + (high - low) * share, f"{prefix}{text}")):
        yield


def one_by_one(things: Sequence[T], text: str) -> Iterator[T]:
    """The things, each told of before it is handed out."""
    for k, thing in enumerate(things):
        tell(k / len(things), f"{text} {k + 1} of {len(things)}")
        yield thing
