"""A character moved as it is."""

from __future__ import annotations

from typing import Any

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.fields import Array, Length
from tightseam.document.model import Character
from tightseam.document.walk import Field, rewritten
from tightseam.geometry.types import Floats


def shifted(character: Character, store: ArrayStore, by: Floats) -> Character:
    """The character moved `by` (3,) cm: whatever is marked as a place. Lengths, weights and offsets stay as they are."""

    def moved(field: Field) -> Any:
        mark = field.mark(Length)
        if mark is None or not mark.place:
            return field.value
        if any(isinstance(m, Array) for m in field.marks):
            values = np.asarray(store.get(field.value))
            return store.put((values + by).astype(values.dtype))
        return _moved(field.value, by.tolist())

    return rewritten(character, moved)


def _moved(value: Any, by: list[float]) -> Any:
    """A point, or tuples of them."""
    if value and isinstance(value[0], tuple):
        return tuple(_moved(x, by) for x in value)
    return tuple(x + d for x, d in zip(value, by, strict=True)) if value else value
