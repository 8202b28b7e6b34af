"""What a document may hold at most."""

from __future__ import annotations

FARTHEST = 1e5  # cm; a head a kilometre away is a mistake
MOST_VERTICES = 2_000_000  # of one part
MOST_PARTS = 2_000
MOST_BONES = 5_000
MOST_TURN = 360.0  # degrees a bone may be turned
MOST_KEYS = 64  # of a curve
