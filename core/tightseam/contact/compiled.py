"""The compiled loops of this package, loaded when they are first needed: nothing else here needs a compiler."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from typing import Any


@cache
def loops(of: str) -> Any:
    """The module of loops of `tree`, `clash`, `depth`, `gap` or `section`."""
    return import_module(f"tightseam.contact.{of}_kernels")
