"""Every length of a character by a factor."""

from __future__ import annotations

from typing import Any

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.channels import channels
from tightseam.document.fields import Array, InUnitOfChannel, Length
from tightseam.document.model import Character
from tightseam.document.walk import Field, rewritten


def rescaled(character: Character, store: ArrayStore, factor: float) -> Character:
    """The character `factor` times as large about the origin: whatever is marked as a length, and the values of poses that move a bone.
    What a document allows only so much of stays within that."""
    lengths = {name for name, c in channels(character.bones).items() if c.kind == "move"}

    def scaled(field: Field) -> Any:
        channel = field.mark(InUnitOfChannel)
        if channel is not None:
            return field.value * factor if field.beside(channel.of) in lengths else field.value
        mark = field.mark(Length)
        if mark is None or not mark.when(field.records[-1]):
            return field.value
        if any(isinstance(m, Array) for m in field.marks):
            values = np.asarray(store.get(field.value))
            return store.put((values * factor).astype(values.dtype))
        return _times(field.value, factor, mark.most)

    return rewritten(character, scaled)


def _times(value: Any, factor: float, most: float) -> Any:
    """A number, or tuples of them, by a factor."""
    if isinstance(value, tuple):
        return tuple(_times(x, factor, most) for x in value)
    return min(max(value * factor, -most), most)
