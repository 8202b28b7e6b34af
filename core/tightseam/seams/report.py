"""Readings and findings as plain data, for the command line and the API."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.seams.asymmetry import Uneven
from tightseam.seams.findings import findings
from tightseam.seams.reading import Reading


def pose_report(
    character: Character,
    store: ArrayStore,
    evaluator: Evaluator,
    readings: Mapping[str, list[Reading]],
    uneven: Mapping[str, list[Uneven] | None],
) -> dict[str, Any]:
    """Every seam of every measured pose in mm, whether it is within its limits, how far left and right disagree there, and the findings."""
    known = {p.name for p in character.poses}
    found = findings(character, store, evaluator, {k: v for k, v in readings.items() if k in known})
    return {
        "within": all(r.within for row in readings.values() for r in row),
        "poses": [
            {
                "pose": name,
                "seams": [asdict(r) | {"within": r.within} for r in row],
                "uneven": None if (sides := uneven[name]) is None else [asdict(u) for u in sides],
            }
            for name, row in readings.items()
        ],
        "findings": [asdict(f) for f in found],
    }
