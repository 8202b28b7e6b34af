"""What a recipe is: steps, and what is needed to find on another head what they speak of."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import asdict, field
from typing import Annotated, Any, Literal

from pydantic import Field
from pydantic.dataclasses import dataclass as checked

from tightseam.document.basics import STRICT, Point
from tightseam.document.errors import BadRequest
from tightseam.document.json_text import from_json, text_of
from tightseam.document.model import Part
from tightseam.edits.registry import parse_recipe

MOST_STEPS = 5000
MOST_BYTES = 64 << 20


@checked(frozen=True, config=STRICT)
class RecipeStep:
    """An edit with its parameters, and in words what it did. `mesh` is the order of vertices of the part it speaks of, `points` the hash of
    where these stood in the neutral; `places` (K, 3) in cm is where those stood, `vertices` (K,), that it speaks of."""

    edit: Annotated[str, Field(max_length=64)]
    params: dict[str, Any]
    text: str = ""
    mesh: str | None = None
    points: str | None = None
    vertices: tuple[int, ...] = ()
    places: tuple[Point, ...] = ()


@checked(frozen=True, config=STRICT)
class Recipe:
    """The steps of one character in order, and the landmarks it had in the end: they are the bridge to other heads."""

    name: str
    steps: Annotated[tuple[RecipeStep, ...], Field(max_length=MOST_STEPS)]
    landmarks: Mapping[str, Point] = field(default_factory=dict)
    format: Literal["tight-seam-recipe"] = "tight-seam-recipe"

    def json(self) -> bytes:
        return json.dumps(asdict(self), ensure_ascii=False, separators=(",", ":")).encode()


def read_recipe(data: bytes, file: str) -> Recipe:
    """A recipe from JSON, or from a plain list of edits as `tightseam edit` takes it. BadRequest says what is wrong with it."""
    if len(data) > MOST_BYTES:
        raise BadRequest(f"{file} has {len(data) / 1e6:.0f} MB; a recipe has {MOST_BYTES / 1e6:.0f} MB at most.")
    text = text_of(data, file)
    if text.lstrip().startswith("["):
        steps = parse_recipe(text)
        return Recipe(file, tuple(RecipeStep(s.edit, s.params.model_dump(mode="json")) for s in steps))
    return from_json(text, file, Recipe, "recipe")


def mesh_key(part: Part) -> str:
    """The same for parts of the same vertices and polygons, wherever they stand."""
    return hashlib.sha256(f"{part.vertex_count} {part.sizes} {part.corners}".encode()).hexdigest()[:16]
