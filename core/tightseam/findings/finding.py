"""Findings and repairs."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from tightseam.document.basics import Point
from tightseam.findings.cause import Cause

Unit = Literal["mm", "mm²", "°", "vertices", "times", "share"]
WORDS = {
    "binding.set_carrier": "Give it to what should carry it",
    "binding.weigh": "Weigh it anew by heat over the surface",
    "binding.ride": "Let it ride on the skin",
    "binding.set_order": "Deform it by shapes first",
    "bones.follow_landmarks": "Let landmarks place it again",
    "lids.drive": "Close the lids by the arc",
    "lids.fit_relief": "Raise eye relief there",
    "lids.mend_map": "Mend lid share there",
    "lids.set_line": "Ease the closed line",
    "lids.smooth_map": "Smooth lid share there",
    "shape.clean": "Let them stay where they are",
    "shape.flip": "Make it the mirror image of its twin",
    "shape.remove": "Remove it",
    "shape.take_along": "Take the part along with the skin",
    "shape.take_out": "Take out of it what the bones do",
    "weights.cap": "Leave each vertex its largest influences",
    "weights.mend": "Mend the weights there from their surroundings",
    "weights.normalise": "Bring the totals to 1",
}  # what edits do, where a finding says no more of them


@dataclass(frozen=True)
class Repair:
    """An edit that may put a finding right, in words and as a step of a recipe."""

    text: str
    edit: str
    params: dict[str, Any]


@dataclass(frozen=True)
class Finding:
    """Something that was measured to be wrong.

    `kind` is the check that found it and `about` the name of what it is about: a bone, a shape, a seam, a lid, a part. `size` in `unit`
    is held against `limit`, where there is one. It lies at `point` (cm), on the `vertices` of `part`. `pose` is a pose of the strip or
    `values` (those of controls away from rest) bring it about, `moment` says that in words. `causes` are longest first, `repairs` best
    first.
    """

    kind: str
    about: str
    title: str
    text: str
    size: float
    unit: Unit = "mm"
    limit: float | None = None
    part: str | None = None
    vertices: tuple[int, ...] = ()
    point: Point | None = None
    pose: str | None = None
    values: Mapping[str, float] = field(default_factory=dict)
    moment: str = ""
    causes: tuple[Cause, ...] = ()
    repairs: tuple[Repair, ...] = ()


def repair(edit: str | None, params: Mapping[str, Any], text: str = "") -> tuple[Repair, ...]:
    """The one repair of a finding, in the words of the edit where it has no others; none without an edit."""
    return () if edit is None else (Repair(text or WORDS[edit], edit, dict(params)),)
