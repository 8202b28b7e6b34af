"""Spellings of earlier versions: read wherever they were written, and never written again.

A field that was renamed reads its old name through an alias beside its own (`AliasChoices`); values and edits that were renamed are here.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypeVar

from pydantic import BeforeValidator

T = TypeVar("T")
EDITS = {"shape.mix": "shape.add_up"}
RIDES = {"lock": "tuft"}
SCULPT_TOOLS = {"inflate": "swell", "deflate": "sink"}
LID_MAPS = {"relief": "eye_relief"}
SECTIONS = {"reliefs": "eye_reliefs", "surface_reliefs": "reliefs"}  # other sections have these names today
GLB_EXTRAS = {"reliefs": "eyeReliefs", "surfaceReliefs": "reliefs"}


def reading(older: Mapping[str, str]) -> BeforeValidator:
    """Reads a value in its older spelling too."""

    def of_today(value: Any) -> Any:
        return older.get(value, value) if isinstance(value, str) else value

    return BeforeValidator(of_today)


def step_of_today(step: Any) -> Any:
    """An edit as JSON under the name it has today, with the parameters of today."""
    if not isinstance(step, dict) or not isinstance(step.get("edit"), str):
        return step
    if step["edit"] == "jaw.drive" and isinstance(step.get("params"), dict):
        return {"edit": "control.link", "params": _link(step["params"])}
    return step | {"edit": EDITS.get(step["edit"], step["edit"])}


def _link(params: dict[str, Any]) -> dict[str, Any]:
    """What had a control drive reliefs, seals or corners, which without keys let go."""
    targets = params.get("targets")
    first = targets[0] if isinstance(targets, list) and targets else ""
    kind = {"seal_L": "seal", "seal_R": "seal", "corner_L": "corner", "corner_R": "corner"}.get(str(first), "relief")
    return params | {"kind": kind, "gain": 1.0 if params.get("keys") else 0.0}


def named_as_today(things: Mapping[str, T], older: Mapping[str, str]) -> dict[str, T]:
    """Things by their names, those with an older name by today's."""
    return {older.get(name, name): thing for name, thing in things.items()}
