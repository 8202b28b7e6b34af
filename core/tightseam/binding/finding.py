"""What a check of weights says."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from tightseam.document.labels import vertices_said
from tightseam.document.model import Part
from tightseam.findings.finding import Finding, repair
from tightseam.geometry.types import Ints

NONE = np.zeros(0, np.int64)


def of_weights(
    kind: str, part: Part, bone: str | None, title: str, text: str, vertices: Ints, edit: str | None, params: Mapping[str, Any]
) -> Finding:
    """What is wrong with the weights of some vertices (K,) of a part, sorted, or of all of it; and the bone to blame."""
    rows = tuple(vertices.tolist())
    size = float(len(rows) or part.vertex_count)
    return Finding(kind, bone or part.name, title, text, size, "vertices", part=part.name, vertices=rows, repairs=repair(edit, params))


def of_vertices(kind: str, part: Part, bone: str | None, title: str, text: str, vertices: Ints, edit: str, **more: object) -> Finding:
    """The same, repaired by an edit of these vertices."""
    return of_weights(kind, part, bone, title, text, vertices, edit, {"part": part.name, "vertices": vertices.tolist(), **more})


def count_said(vertices: Ints) -> str:
    return f"{vertices_said(len(vertices))} {'has' if len(vertices) == 1 else 'have'}"
