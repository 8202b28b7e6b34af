"""What a check of weights says."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from tightseam.document.labels import vertices_said
from tightseam.document.model import Part
from tightseam.geometry.types import Ints


@dataclass(frozen=True)
class WeightFinding:
    """What is wrong with the weights of a part. `vertices` (sorted) are concerned; `edit` with `params` would repair it."""

    check: str
    part: str
    bone: str | None
    title: str
    text: str
    vertices: tuple[int, ...]
    edit: str | None = None
    params: dict[str, Any] = field(default_factory=dict)


def finding(check: str, part: Part, bone: str | None, title: str, text: str, vertices: Ints, edit: str, **more: object) -> WeightFinding:
    picked = vertices.tolist()
    return WeightFinding(check, part.name, bone, title, text, tuple(picked), edit, {"part": part.name, "vertices": picked, **more})


def count_said(vertices: Ints) -> str:
    return f"{vertices_said(len(vertices))} {'has' if len(vertices) == 1 else 'have'}"
