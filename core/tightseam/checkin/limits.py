"""The limits of Check-in, each of which can be changed per character."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tightseam.document.errors import BadRequest


@dataclass(frozen=True)
class Limit:
    """A number a check holds its measure against, with the range a person may set it to."""

    label: str
    unit: str
    value: float
    low: float
    high: float


LIMITS: dict[str, Limit] = {
    "lip_gap": Limit("Gap between the lips at rest", "mm", 0.15, 0, 5),
    "lip_overlap_least": Limit("Least overlap of the lips", "mm", 0.1, 0, 5),
    "lip_overlap_most": Limit("Most overlap of the lips", "mm", 1.3, 0, 10),
    "lid_opening_least": Limit("Narrowest lid opening", "°", 18, 0, 90),
    "lid_opening_most": Limit("Widest lid opening", "°", 62, 10, 150),
    "lid_loops": Limit("Fewest loops round the lids", "loops", 3, 0, 20),
    "lip_loops": Limit("Fewest loops round the lips", "loops", 3, 0, 20),
    "lid_thickness": Limit("Thinnest lid", "mm", 0.8, 0, 10),
    "eye_roundness": Limit("Roundness of an eyeball, highest against lowest", "mm", 0.3, 0, 10),
    "eye_pivot": Limit("Distance of an eye's pivot from its centre", "mm", 0.5, 0, 20),
    "brow_drift": Limit("Drift of the brow mesh when the skin bends", "mm", 0.15, 0, 5),
    "forehead_rows": Limit("Fewest rows over the brows", "rows", 3, 0, 50),
    "symmetry": Limit("Deviation from the mirror image", "mm", 0.2, 0, 50),
    "duplicates": Limit("Vertices count as one within", "mm", 0.001, 0, 1),
    "jumble": Limit("Roughness of the surface, in edge lengths", "", 0.9, 0.05, 10),
    "head_least": Limit("Smallest head, chin to crown", "cm", 12, 1, 1000),
    "head_most": Limit("Largest head, chin to crown", "cm", 40, 1, 1000),
}


def limits_with(own: Mapping[str, float]) -> dict[str, float]:
    """Values of all limits, those of `own` in place of ours."""
    return {key: own.get(key, limit.value) for key, limit in LIMITS.items()}


def check_limit(key: str, value: float) -> Limit:
    """The limit of that key; BadRequest where there is none or the value is beyond its range."""
    if key not in LIMITS:
        raise BadRequest(f"There is no limit “{key}”. There are: {', '.join(LIMITS)}.")
    limit = LIMITS[key]
    if not limit.low <= value <= limit.high:
        raise BadRequest(
            f"{limit.label} goes from {limit.low:g} to {limit.high:g} {limit.unit}; {value:g} is out of range.".replace(" ;", ";")
        )
    return limit
