"""Array types used all over the core."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.floating[Any]]
Ints = NDArray[np.integer[Any]]
Bools = NDArray[np.bool_]
AnyArray = NDArray[Any]
