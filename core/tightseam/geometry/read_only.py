"""Arrays as compiled loops take them in."""

from __future__ import annotations

import numpy as np
from numpy.typing import DTypeLike

from tightseam.geometry.types import AnyArray


def read_only(array: AnyArray, kind: DTypeLike | None = None) -> AnyArray:
    """A contiguous view that can only be read. A loop is compiled for arrays that can be written to or for others: what it is only to
    look at it gets like this, so that it has one signature, whoever the array belongs to."""
    if not array.flags.writeable and array.flags.c_contiguous and (kind is None or array.dtype == kind):
        return array
    found = np.ascontiguousarray(array, kind).view()
    found.flags.writeable = False
    return found
