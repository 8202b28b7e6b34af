"""Units: centimetres inside, millimetres for people, whatever files have."""

from __future__ import annotations

CM_TO_MM = 10.0
UNITS = {"mm": 0.1, "cm": 1.0, "m": 100.0, "inch": 2.54, "dm": 10.0}  # in cm


def unit_name(cm: float) -> str | None:
    """The name of a unit of that size, None for an odd one."""
    return next((name for name, size in UNITS.items() if abs(size - cm) < 1e-9 * size), None)
