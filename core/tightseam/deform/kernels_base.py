"""How the inner loops of a frame are compiled."""

from __future__ import annotations

BLOCK = 256  # vertices whose mixed matrices fit the first cache
OPTIONS = {"fastmath": True, "cache": True, "nogil": True, "boundscheck": False, "error_model": "numpy"}
