"""What the parameters of edits speak of: vertices of a part, and places on or about the head."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from tightseam.document.model import Character, Part

VERTICES = ("vertices", "only")
PLACES = ("point", "base", "tip", "place", "eye")
BESIDE = ("region", "weights")  # a value or a row for each of the vertices
STROKES = ("painting", "sculpting")


def part_of(params: dict[str, Any], character: Character) -> Part | None:
    """The part that an edit's vertices are of: the one it names, that of its stroke or of its relief, else the skin."""
    inner = next((params[name] for name in STROKES if isinstance(params.get(name), dict)), params)
    name = inner.get("part") or next((r.part for r in character.reliefs if r.name in (inner.get("name"), inner.get("relief"))), None)
    return next((p for p in character.parts if (p.name == name if name else p.kind == "skin")), None)


def vertices_in(params: Any) -> Iterable[int]:
    """All vertices that parameters speak of."""
    for key, value in params.items() if isinstance(params, dict) else ():
        if key in VERTICES and isinstance(value, list):
            yield from value
        elif key == "dabs":
            yield from (dab["vertex"] for dab in value)
        else:
            yield from vertices_in(value)


def speaks_of_places(params: Any) -> bool:
    """Do parameters name places in space?"""
    if isinstance(params, dict):
        return any((key in (*PLACES, "places") and bool(value)) or speaks_of_places(value) for key, value in params.items())
    return isinstance(params, list) and any(map(speaks_of_places, params))


def carried_over(params: Any, vertex: Callable[[int], int], place: Callable[[list[float]], list[float]]) -> Any:
    """Parameters with other vertices and places. Vertices that come together are named once, with what the first had beside it."""
    if isinstance(params, list):
        return [carried_over(x, vertex, place) for x in params]
    if not isinstance(params, dict):
        return params
    found: dict[str, Any] = {}
    for key, value in params.items():
        if key == "vertex":
            found[key] = vertex(value)
        elif key in PLACES and isinstance(value, list):
            found[key] = place(value)
        elif key == "places" and isinstance(value, list):
            found[key] = [place(x) for x in value]
        elif key not in VERTICES or not isinstance(value, list):
            found[key] = carried_over(value, vertex, place)
    for key in VERTICES:
        if isinstance(params.get(key), list):
            first = {vertex(v): k for k, v in reversed(list(enumerate(params[key])))}
            found[key] = sorted(first)
            for beside in BESIDE:
                if isinstance(params.get(beside), list) and len(params[beside]) == len(params[key]) > 0:
                    found[beside] = [params[beside][first[v]] for v in found[key]]
    return {key: found[key] for key in params}
